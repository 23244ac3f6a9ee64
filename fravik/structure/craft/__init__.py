"""The whole craft as one structure: parts condensed to their ports, joined, carrying rotors and items, free in the air."""
