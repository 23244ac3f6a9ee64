"""What goes to the printer and the bench: parts table and settings sheet."""
