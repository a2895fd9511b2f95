"""Lost motion, preload drag and belt tension, computed or given, and measured."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.pair import Measured, pair
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.units import ROTARY_UNITS
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt

LEFT_OUT, OF_BACKLASH, OF_DRAG, OF_TONE, OF_LINK = 0.1, 0.1, 0.1, 0.05, 0.02  # shares: of the formula, of readings without a
# stated uncertainty, and of what a link says of itself
UNTOLD = 3e-6, 3e-5  # m, rad: standard uncertainty of the play that no data sheet tells, by this house


@pair("lost motion", stage="Slack", computes="expected_lost_motion", model=LEFT_OUT, readings=("reversal",), minutes=15.0,
      gauge=0.05)
def lost_motion(computed: float, backlash: float, unit: str, backlash_uncertainty: float | None = None) -> Measured:
    """The backlash of the last reversal readings [travel]. What no sheet says of any machine is counted to what the formula leaves
    out: seats, guides and wear give way by a few micrometres.
    """
    untold = UNTOLD[unit in ROTARY_UNITS] / computed if computed else 0.0
    u = OF_BACKLASH * backlash if backlash_uncertainty is None else backlash_uncertainty
    return Measured(backlash, u, model=math.hypot(LEFT_OUT, untold))


def only(values: list[Reals], what: str) -> Reals:
    """The one value of a list. Raises NotKnown where there is none, or another."""
    if len(values) != 1:
        raise NotKnown(f"{'none' if not values else 'more than one'} of the links says {what}")
    return values[0]


@quantity("N·m", symbol="", source="of the one link that says so", structure=True, formula="T_d")
def drag_of_train(train: tuple[Link, ...]) -> Reals:
    """With what torque the one link drags that says so [N·m]. Raises NotKnown."""
    return only([link.drag_torque for link in train if np.any(link.drag_torque)], "how it drags")


@quantity("N", symbol="", source="of the one belt that says so", structure=True, formula="F_0")
def tension_of_train(train: tuple[Link, ...]) -> Reals:
    """How hard the one belt is pulled that says so [N]. Raises NotKnown."""
    belts = [link.pretension for link in train if isinstance(link, Belt)]
    return only([one for one in belts if one is not None], "how hard it is pulled")


@pair("drag of the preload", stage="Slack", computes="drag_of_train", model=OF_LINK, readings=("drag",), minutes=5.0, gauge=0.1,
      shown_as="preload_torque")
def drag(preload_torque: Reals) -> Measured:
    """What turns the preloaded shaft [N·m]."""
    return Measured(float(preload_torque), OF_DRAG * float(preload_torque))


@pair("belt tension", stage="Slack", computes="tension_of_train", model=OF_LINK, readings=("tone",), minutes=3.0, gauge=0.05,
      shown_as="tone_tension")
def tone(tone_tension: Reals) -> Measured:
    """Tension by the tone of a span [N]."""
    return Measured(float(tone_tension), OF_TONE * float(tone_tension))


PUSHED = 0.1  # share to which a stiffness is known whose fit says no uncertainty
PUSHING: dict[str, Any] = {"readings": ("push",), "minutes": 8.0, "gauge": 0.05}


def pushed(contact_stiffness: float, contact_stiffness_uncertainty: float | None, model: float) -> Measured:
    """The stiffness that a push finds [effort/travel], as something measured; model: what the formula leaves out, a share."""
    u = PUSHED * contact_stiffness if contact_stiffness_uncertainty is None else contact_stiffness_uncertainty
    return Measured(contact_stiffness, u, model=model)
