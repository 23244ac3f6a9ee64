"""Craft that fly on wings: lifting line, rotors in any stream, balance, the way from hover to forward flight. SI units throughout."""
