"""Printed material, sections, beam frames, modes, reserves and impact."""
