"""The stiffness of an axis with a stepper, computed and pushed."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.pair import Measured, pair
from urban_mule.core.slack.compared import PUSHING, pushed

LEFT_OUT = 0.05  # share


@pair("stiffness", stage="Slack", computes="axial_stiffness", model=LEFT_OUT, **PUSHING)
def stiffness(
    computed: float, contact_stiffness: float, contact_stiffness_uncertainty: float | None = None,
    stiffness_when_pushed: Reals = None,
) -> Measured:
    """What a push finds of trains and idle fields [effort/travel]; how far friction of the train holds the motor is not sure."""
    friction = 0.0 if stiffness_when_pushed is None else abs(float(stiffness_when_pushed) / computed - 1)
    return pushed(contact_stiffness, contact_stiffness_uncertainty, max(LEFT_OUT, friction))
