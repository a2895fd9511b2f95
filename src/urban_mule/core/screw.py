"""Limits of a screw: whirling and buckling. Source: Euler-Bernoulli beam, S. Timoshenko, Vibration Problems in Engineering."""

from __future__ import annotations

import math

from urban_mule.core.sheet import NotKnown, Reals
from urban_mule.core.train import STEEL_DENSITY, Screw

STEEL_MODULUS = 206e9  # Pa
WHIRLING_ROOT = {"supported-supported": math.pi, "fixed-supported": 3.927, "fixed-fixed": 4.730, "fixed-free": 1.875}
WHIRLING_SHARE = 0.8  # of the first whirling speed that is used: the common school


def whirling_speed(screw: Screw) -> Reals:
    """First whirling speed [rad/s] of a screw held as `end_support` says, on its root (else outer) diameter.

    Raises NotKnown while diameter, length or support is not given.
    """
    if screw.end_support is None:
        raise NotKnown("how the ends of the screw are held is not given")
    diameter = screw.root_diameter if screw.root_diameter is not None else screw.need("diameter")
    stiffness_over_mass = STEEL_MODULUS / STEEL_DENSITY * diameter**2 / 16
    return WHIRLING_ROOT[screw.end_support] ** 2 * stiffness_over_mass**0.5 / screw.need("length") ** 2
