"""What resists a linear axis: mass, gravity, friction, process force, counterbalance."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.doubt import MEASURED_WELL, RUBBING, WEIGHED, WORK
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.units import STANDARD_GRAVITY
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.known import GUIDES, USUAL_SPREAD


class LinearLoad:
    """What the user knows of the load of a linear axis."""

    moving_mass: Reals = given("kg", "m", "everything that travels with the load", least=0, doubt=WEIGHED)
    incline: Reals = given("rad", "φ", "angle of the plus direction above horizontal", default=0.0,
                           least=-math.pi / 2 * (1 + 1e-9), most=math.pi / 2 * (1 + 1e-9))
    friction_coefficient: Reals = given("", "μ", "sliding or rolling friction of the guides", default=0.0, assumed=True, least=0,
        label="Guide friction, µ", doubt=RUBBING)
    friction_force: Reals = given("N", "F_f", "seals, cable chain, preload: friction without load", default=0.0, assumed=True,
        least=0, doubt=RUBBING)
    process_force: Reals = given("N", "F_p", "what the work resists with while moving", default=0.0, least=0, doubt=WORK)
    counterbalance_force: Reals = given("N", "F_cb", "constant push in the plus direction, of a gas spring, a counterweight on its"
        " rope or a spring", default=0.0, label="Counterbalance", doubt=MEASURED_WELL)
    counterweight_mass: Reals = given("kg", "m_cw", "a counterweight's own mass, which is moved too; 0 for a gas spring",
        default=0.0, least=0)


@quantity("kg", symbol="m", source="definition")
def moved_inertia(moving_mass: Reals, counterweight_mass: Reals) -> Reals:
    """What the axis has to accelerate: the load, and a counterweight that runs against it [kg]."""
    return moving_mass + counterweight_mass


@quantity("N", symbol="F_g", source="statics on an incline")
def gravity_load(moving_mass: Reals, incline: Reals, counterbalance_force: Reals) -> Reals:
    """Force that pulls to minus whichever way the axis moves; moving_mass [kg], incline [rad], counterbalance [N]."""
    return moving_mass * STANDARD_GRAVITY * np.sin(incline) - counterbalance_force


@quantity("N", symbol="F_r", source="Coulomb friction")
def friction_load(friction_coefficient: Reals, moving_mass: Reals, incline: Reals, friction_force: Reals) -> Reals:
    """Friction against the direction of travel; moving_mass [kg], incline [rad], friction_force [N]."""
    return friction_coefficient * moving_mass * STANDARD_GRAVITY * np.cos(incline) + friction_force


@quantity("N", symbol="F_p", source="definition")
def process_load(process_force: Reals) -> Reals:
    """What the work resists with on every moving piece, out and back; process_force [N]."""
    return process_force


@quantity("", symbol="", source="what is not given is taken as ideal", structure=True, label="Friction counted on")
def friction_counted_on(friction_coefficient: Reals) -> str:
    """What is counted on while nobody has said the friction, or took a usual one."""
    return f"guides with a friction of {size(friction_coefficient)}" if friction_coefficient else "guides without friction"


@quantity("", symbol="", source="usual values of guides, the unfavourable end", structure=True,
          formula="1.6·µ of a usual one, else that of sliding guides")
def friction_at_worst(friction_coefficient: Reals) -> dict[str, Reals]:
    """The friction, by its given, at the unfavourable end of what is usual."""
    return {"friction_coefficient": (1 + USUAL_SPREAD) * friction_coefficient or max(one.value for one in GUIDES)}
