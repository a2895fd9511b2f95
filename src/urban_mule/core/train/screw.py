"""Limits of a screw: whirling, buckling, life. Source: Euler-Bernoulli beam, S. Timoshenko, Vibration Problems in Engineering."""

from __future__ import annotations

import math

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.train.links import STEEL_MODULUS, Screw
from urban_mule.core.train.threads import STEEL_DENSITY

WHIRLING_ROOT = {"supported-supported": math.pi, "fixed-supported": 3.927, "fixed-fixed": 4.730, "fixed-free": 1.875}
BUCKLING_FACTOR = {"supported-supported": 1.0, "fixed-supported": 2.046, "fixed-fixed": 4.0, "fixed-free": 0.25}
BUCKLING_SHARE = 0.5  # of Euler's load that is used: the common school
WHIRLING_SHARE = 0.8  # of the first whirling speed that is used: the common school


def whirling_speed(screw: Screw) -> Reals:
    """First whirling speed [rad/s] of a screw held as `end_support` says, on its root (else outer) diameter.

    Raises NotKnown while diameter, length or support is not given.
    """
    if screw.end_support is None:
        raise NotKnown("how the ends of the screw are held is not given", "train.screw.end_support")
    stiffness_over_mass = STEEL_MODULUS / STEEL_DENSITY * screw.bearing_diameter**2 / 16
    return WHIRLING_ROOT[screw.end_support] ** 2 * stiffness_over_mass**0.5 / screw.need("length") ** 2


def buckling_force(screw: Screw) -> Reals:
    """Euler's load [N] of a screw held as `end_support` says, on its root (else outer) diameter.

    Raises NotKnown while diameter, length or support is not given.
    """
    if screw.end_support is None:
        raise NotKnown("how the ends of the screw are held is not given", "train.screw.end_support")
    area_moment = math.pi * screw.bearing_diameter**4 / 64
    return BUCKLING_FACTOR[screw.end_support] * math.pi**2 * STEEL_MODULUS * area_moment / screw.need("length") ** 2


def screw_life(screw: Screw, mean_force: Reals) -> Reals:
    """Turns that nine of ten screws outlive, (C_a/F_m)³ million (ISO 3408-5); mean_force: the cubic mean [N].

    Raises NotKnown while the dynamic load rating is not given.
    """
    return (screw.need("dynamic_load_rating") / mean_force) ** 3 * 1e6
