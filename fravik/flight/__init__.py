"""Mass properties and clearances of the whole craft."""
