"""One size up: what a larger motor of the same make would do, by geometric similarity."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

SIZE_UP = 1.5  # times the torque of the next size in most series
WITH_TORQUE = ("rated_power", "short_time_power", "rated_torque", "peak_torque")
INERTIA_RISES = 5 / 3  # power of the torque: torque goes with the cube of the size at one shear stress, inertia with the fifth


def one_size_up(givens: Mapping[str, Any], factor: float = SIZE_UP) -> dict[str, float]:
    """The givens of a motor with `factor` times the torque at the same speeds; what is not known stays so.

    Source: geometric similarity at one shear stress in the air gap.
    """
    found = {name: float(givens[name]) * factor for name in WITH_TORQUE if givens.get(name) is not None}
    if givens.get("rotor_inertia") is not None:
        found["rotor_inertia"] = float(givens["rotor_inertia"]) * factor**INERTIA_RISES
    return found
