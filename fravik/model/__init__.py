"""What the maker decides: frozen, validated data with units in the names. No arithmetic beyond checks."""
