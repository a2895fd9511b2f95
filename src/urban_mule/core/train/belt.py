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


def slack_loss(belt: Belt, peak_load: Reals, nearest: Reals = 0.0) -> Reals:
    """What a load takes off the pull of the slack strand [N]: the strands share it by their lengths.

    F·(L − x)/L, L the whole length: twice the span round a loop, the span along an open belt; peak_load [N]; nearest: how near
    the load comes to the driving pulley, or the motor to the end of an open belt [m]. At 0 it takes all of it.
    """
    if belt.span is None:
        return peak_load
    whole = belt.span if belt.layout == "open" else 2 * belt.span
    return peak_load * (1 - nearest / whole)


def slack_strand(belt: Belt, peak_load: Reals, nearest: Reals = 0.0) -> Reals:
    """Least pull in the slack strand [N]; below 0 it hangs loose and jumps teeth. Arguments as for `slack_loss`.

    Raises NotKnown while the pretension is not given.
    """
    return belt.need("pretension") - slack_loss(belt, peak_load, nearest)


def teeth_in_mesh(belt: Belt) -> Reals:
    """Teeth of the driving pulley that the belt embraces; half of them where no wrap is given. Raises NotKnown."""
    wrap = HALF_WRAP if belt.wrap_angle is None else belt.wrap_angle
    return belt.need("teeth") * wrap / (2 * math.pi)
