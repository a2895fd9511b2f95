"""What resists a rotary axis: inertia, friction torque, process torque. Gives the names of load_linear."""

from __future__ import annotations

from urban_mule.core.sheet.doubt import DRAWN_INERTIA, RUBBING, WORK
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import quantity

BEARINGS = 0.2  # of the torque that accelerates the load


class RotaryLoad:
    """What the user knows of the load of a rotary axis."""

    load_inertia: Reals = given("kg·m²", "J_l", "everything that turns with the load", least=0, doubt=DRAWN_INERTIA)
    friction_torque: Reals = given("N·m", "M_f", "bearings and seals", default=0.0, assumed=True, least=0, doubt=RUBBING)
    process_torque: Reals = given("N·m", "M_p", "what the work resists with while turning", default=0.0, least=0, doubt=WORK)


@quantity("kg·m²", symbol="J_l", source="definition")
def moved_inertia(load_inertia: Reals) -> Reals:
    """What the axis has to accelerate; load_inertia [kg·m²]."""
    return load_inertia


@quantity("N·m", symbol="M_g", source="a balanced load has no weight to lift")
def gravity_load() -> Reals:
    """Torque that pulls to minus whichever way the axis turns: none, the load is taken as balanced."""
    return 0.0


@quantity("N·m", symbol="M_r", source="Coulomb friction")
def friction_load(friction_torque: Reals) -> Reals:
    """Friction against the direction of travel; friction_torque [N·m]."""
    return friction_torque


@quantity("", symbol="", source="what is not given is taken as ideal", structure=True, label="Friction counted on")
def friction_counted_on() -> str:
    """What is counted on while nobody has said the friction."""
    return "bearings without friction"


@quantity("", symbol="", source="preloaded bearings with their seals, this house's estimate", structure=True,
          formula="a fifth of the torque that accelerates the load")
def friction_at_worst(moved_inertia: Reals, top_acceleration: Reals) -> dict[str, Reals]:
    """The friction, by its given, at the unfavourable end of what is usual; inertia [kg·m²], acceleration [rad/s²]."""
    return {"friction_torque": BEARINGS * moved_inertia * top_acceleration}


@quantity("N·m", symbol="M_p", source="definition")
def process_load(process_torque: Reals) -> Reals:
    """What the work resists with on every moving piece, out and back; process_torque [N·m]."""
    return process_torque
