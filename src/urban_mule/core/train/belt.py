"""Limits of a belt that carries the load: pull, the slack strand, teeth in mesh."""

from __future__ import annotations

import math

from urban_mule.core.sheet.given import Reals
from urban_mule.core.train.links import HALF_WRAP, Belt

LEAST_TEETH_IN_MESH = 6  # below it makers of belts derate the teeth: the common school


def tight_strand(belt: Belt, peak_load: Reals) -> Reals:
    """Greatest pull in the belt [N]: the whole force on top of the pretension, the safe side; peak_load [N].

    Raises NotKnown while the pretension is not given.
    """
    return belt.need("pretension") + peak_load


def slack_strand(belt: Belt, peak_load: Reals) -> Reals:
    """Least pull in the other strand of equal stiffness [N]; below 0 it hangs loose and jumps teeth; peak_load [N].

    Raises NotKnown while the pretension is not given.
    """
    return belt.need("pretension") - peak_load / 2


def teeth_in_mesh(belt: Belt) -> Reals:
    """Teeth of the driving pulley that the belt embraces; half of them where no wrap is given. Raises NotKnown."""
    wrap = HALF_WRAP if belt.wrap_angle is None else belt.wrap_angle
    return belt.need("teeth") * wrap / (2 * math.pi)
