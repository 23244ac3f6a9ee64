"""Air and gravity as all rooms take them: the standard atmosphere at sea level, 15 °C (ISO 2533), and standard gravity (ISO 80000-3)."""

from __future__ import annotations

DENSITY_KG_M3 = 1.225
VISCOSITY_M2_S = 1.46e-5  # kinematic
SOUND_M_S = 340.0
GRAVITY_M_S2 = 9.80665
