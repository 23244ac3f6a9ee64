"""Small simulated devices that ship with the product. Each has a hidden truth of its own that differs from the nominal."""
