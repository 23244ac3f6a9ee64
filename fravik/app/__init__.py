"""The window. Only this package knows Qt."""
