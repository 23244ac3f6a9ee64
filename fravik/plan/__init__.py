"""What goes to the printer and the bench: parts table, sheet to print by, beds and schedule."""
