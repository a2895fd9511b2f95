"""What turns with every motor: a rotor, and perhaps a brake on its shaft."""

from __future__ import annotations

from urban_mule.core.sheet.doubt import HEAT_PATH, SHEET_FIGURE
from urban_mule.core.sheet.given import Reals, given, givens
from urban_mule.core.sheet.quantity import quantity


class AnyMotor:
    """What the user knows of every motor."""

    rotor_inertia: Reals = given("kg·m²", "J_r", "moment of inertia of the rotor", above=0, doubt=SHEET_FIGURE)
    thermal_resistance: Reals = given("K/W", "R_th", "rise of the winding per watt, as mounted", above=0, doubt=HEAT_PATH)
    thermal_time_constant: Reals = given("s", "τ", "time in which a constant loss brings two thirds of the rise", above=0,
        label="Thermal time constant", shown="min", doubt=HEAT_PATH)


class FittedBrake:
    """A holding brake on the motor's shaft."""

    brake_torque: Reals = given("N·m", "T_br", "what the brake holds, when there is one", above=0)
    brake_delay: Reals = given("s", "t_br", "from loss of power until the brake bites", least=0, most=10,
        label="Brake delay", shown="ms")
    brake_inertia: Reals = given("kg·m²", "J_br", "moment of inertia that the brake adds to the shaft", default=0.0, least=0,
        doubt=SHEET_FIGURE)


BRAKE = tuple(one.name for one in givens(FittedBrake))


@quantity("kg·m²", symbol="J_m", source="kinetic energy of what turns with the motor itself")
def shaft_inertia(rotor_inertia: Reals, brake_inertia: Reals) -> Reals:
    """Rotor and brake together, the motor's own side of the shaft; both [kg·m²]."""
    return rotor_inertia + brake_inertia
