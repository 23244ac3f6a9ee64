"""From a solid and a recipe to layers, zones, roads, minutes and grams. The zone field made here is the only one."""
