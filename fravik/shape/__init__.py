"""Part geometry: parameters to closed solids, their place on the craft, and mesh files."""
