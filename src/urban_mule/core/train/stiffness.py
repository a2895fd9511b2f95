"""How far the train gives way: its links in a row, the first mode on it, and the motion lost in it."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.doubt import LEFT_OF_WINDUP, MEASURED_WELL
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.train.fold import gains_behind
from urban_mule.core.train.link import Link

SPRINGS = "springs in a row: compliances add, each referred to the load by the gain behind it"


def link_compliances(train: tuple[Link, ...]) -> list[Reals | None]:
    """For each link, travel of the load per unit of effort there [m/N or rad/(N·m)]; None where nothing is said of it."""
    found: list[Reals | None] = []
    for link, behind in zip(train, gains_behind(train), strict=True):
        at_output, at_input = link.stiffness_at_output, link.stiffness_at_input
        parts = [] if at_output is None else [behind**2 / at_output]
        if at_input is not None:
            parts.append((behind * link.gain) ** 2 / at_input)
        found.append(sum(parts) if parts else None)
    return found


class MeasuredTrain:
    """What was measured of the train as a whole, in place of what its links make."""

    measured_stiffness: Reals = given("[effort]/[travel]", "k_m", "of one train, as its first mode was measured to be", above=0,
        doubt=MEASURED_WELL)
    windup_share: Reals = given("", "w", "share of the wind-up by friction that the shake at the end of a move leaves", default=0.6,
        least=0, most=1, shown="%", label="Wind-up that stays", doubt=LEFT_OF_WINDUP)


@quantity("[effort]/[travel]", symbol="k", source=SPRINGS, formula="1 ÷ ∑ (gain behind)²/k of each link",
          label="Stiffness of the train", instead="measured_stiffness")
def train_stiffness(train: tuple[Link, ...]) -> Reals:
    """Effort at the load per travel that one train gives way, its motor held; links of which nothing is said are rigid.

    Raises NotKnown.
    """
    known = [one for one in link_compliances(train) if one is not None]
    if not known:
        raise NotKnown("no link of the train says how stiff it is", *_stiff_by(train))
    return 1.0 / sum(known)


def _stiff_by(train: tuple[Link, ...]) -> tuple[str, ...]:
    """What would say how stiff the train is: of each link what it lacks; the train itself where no link has any."""
    lacking = tuple(f"train.{link.kind}.{name}" for link in train for name in link.stiff_by if getattr(link, name) is None)
    return lacking or ("train",)


@quantity("Hz", symbol="f_1", source="mass on a spring; S. Timoshenko, Vibration Problems in Engineering",
          label="Train mode, motor held")
def first_axial_mode(train_stiffness: Reals, moved_inertia: Reals, motor_count: Reals) -> Reals:
    """Frequency of the load on its train with the motor held; train_stiffness [N/m or N·m/rad], inertia [kg or kg·m²]."""
    return np.sqrt(train_stiffness * motor_count / moved_inertia) / (2 * math.pi)


@quantity("[travel]", symbol="j", source="free play of each link at the load", formula="∑ (gain behind)·clearance of each link",
          shown=("µm", ""))
def train_clearance(train: tuple[Link, ...]) -> Reals:
    """Free play of the load with the motor held: the clearances of the links together."""
    return sum(
        (link.clearance_at_output * behind for link, behind in zip(train, gains_behind(train), strict=True)), start=0.0)


def stays_on_one_flank(gravity_load: Reals, friction_load: Reals) -> Reals:
    """Whether the weight exceeds the friction, so that creeping either way the same flanks bear; loads [N or N·m]."""
    return np.abs(gravity_load) > friction_load


@quantity("[travel]", symbol="j_B", source="free play of each link at the load; a weight keeps the flanks together",
          formula="j, or 0 where the weight exceeds the friction", shown=("µm", ""), label="Play at a reversal")
def play_at_reversal(train_clearance: Reals, friction_load: Reals, gravity_load: Reals) -> Reals:
    """Free play that a reversal shows; loads [N or N·m]."""
    return np.where(stays_on_one_flank(gravity_load, friction_load), 0.0, train_clearance)[()]


@quantity("[travel]", symbol="B_p", source="friction winds the train up one way and then the other, clearance adds",
          formula="2·F_r/(n·k) + j", label="Lost motion, at most", shown=("µm", ""))
def predicted_lost_motion(
    train_clearance: Reals, friction_load: Reals, motor_count: Reals, play_at_reversal: Reals, train_stiffness: Reals = None,
    train: tuple[Link, ...] = ()
) -> Reals:
    """The most that a reversal loses in the train, before it is measured: the end of a move shakes part of the wind-up loose.

    friction_load [N or N·m]. Raises NotKnown with neither stiffness nor clearance.
    """
    if train_stiffness is None:
        if np.all(np.asarray(train_clearance) == 0):
            raise NotKnown("neither stiffness nor clearance is given for any link of the train", *_stiff_by(train))
        return play_at_reversal
    return 2 * friction_load / motor_count / train_stiffness + play_at_reversal
