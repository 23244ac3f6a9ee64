"""A rotor's motor and propeller together."""

from __future__ import annotations

from dataclasses import dataclass, field

from fravik.model.craft import Components, Motor, Propeller

from .blades import resolved

USUAL = "components"


@dataclass(frozen=True)
class Drive:
    """``path`` is where both are edited, below it ``motor`` and ``propeller``; drives of the same are alike wherever that is."""

    motor: Motor
    propeller: Propeller
    path: str = field(default=USUAL, compare=False)

    @property
    def mass_g(self) -> float:
        """Of both."""
        return self.motor.mass_g + self.propeller.mass_g


def alike(parts: Components, rotors: int) -> tuple[Drive, ...]:
    """The usual drive on so many rotors."""
    return (Drive(parts.motor, resolved(parts.propeller)),) * rotors
