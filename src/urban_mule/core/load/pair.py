"""Two motors that move two axes together, plus and minus of both: what that asks of each of them.

Along one axis a pair is that axis with two motors; the fellow's part comes on top of it when both move at once. Source: statics and
kinematics of two belts that share their carriage, q_A = x + y, q_B = x − y.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.fellow import Fellow, apart
from urban_mule.core.load.moments import CycleTorque
from urban_mule.core.load.torque import motor_torque, rms_of, torque_over
from urban_mule.core.readings.push import PushReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link

SOURCE = "two belts that share a carriage: q_A = x + y, q_B = x − y"
MOTORS = 2.0


def mean_of(cycle_torque: CycleTorque, cycle_duration: Reals) -> Reals:
    """The mean torque of one motor over the cycle, signed, dwells in it [N·m]; cycle_duration [s]."""
    return np.sum((cycle_torque.start + cycle_torque.end) / 2 * cycle_torque.pieces.time_spent, axis=-1) / cycle_duration


@quantity("N·m", symbol="T_AB", source=SOURCE, unless=apart, label="Peak torque, both axes at once",
          formula="the fold of (|F_x| + |F_y|)/2 at a_x + a_y, rotor last")
def pair_peak_torque(
    train: tuple[Link, ...], peak_load: Reals, top_acceleration: Reals, travel_per_radian: Reals, shaft_inertia: Reals,
    fellow: Fellow,
) -> Reals:
    """Torque of one motor with both axes at their hardest at once, in the same sense. Raises NotKnown."""
    acceleration, load = fellow.known("top_acceleration", "peak_load")
    return motor_torque(train, top_acceleration + acceleration, 1.0, peak_load + load, travel_per_radian, shaft_inertia)


Drive = tuple[float, float]  # greatest force on one train [N], and top acceleration [m/s²], of one axis


def torques_of_move(
    train: tuple[Link, ...], first: Drive, second: Drive, share: tuple[float, float], travel_per_radian: float,
    shaft_inertia: float,
) -> tuple[float, float]:
    """Torque of motor A and of motor B [N·m] for a move in which each axis has its share, −1 to 1, of its hardest.

    first, second: of the axis of motor A, and of motor B; travel_per_radian [m/rad], shaft_inertia [kg·m²].
    """
    (load, acceleration), (other_load, other_acceleration) = ((part * drive[0], part * drive[1]) for part, drive in zip(
        share, (first, second), strict=True))
    found = []
    for sign in (1, -1):
        both = acceleration + sign * other_acceleration
        found.append(float(motor_torque(train, both, float(np.sign(both)) or 1.0, load + sign * other_load, travel_per_radian,
                                        shaft_inertia)))
    return found[0], found[1]


@quantity("rad/s", symbol="ω_AB", source=SOURCE, unless=apart, shown="rpm", label="Peak speed, both axes at once",
          formula="(v_x + v_y) ÷ r")
def pair_peak_speed(top_speed: Reals, travel_per_radian: Reals, fellow: Fellow) -> Reals:
    """Speed of one motor with both axes at their fastest at once. Raises NotKnown."""
    return (top_speed + fellow.known("top_speed")[0]) / travel_per_radian


@quantity("", symbol="p_f", source=SOURCE, unless=apart, shown="%", label="Torque share of the other axis",
          formula="1 − the same fold of this axis alone ÷ T_AB")
def pair_share(
    train: tuple[Link, ...], peak_load: Reals, top_acceleration: Reals, travel_per_radian: Reals, shaft_inertia: Reals,
    pair_peak_torque: Reals,
) -> Reals:
    """What of the peak torque is the other axis's."""
    return 1 - motor_torque(train, top_acceleration, 1.0, peak_load, travel_per_radian, shaft_inertia) / pair_peak_torque


@quantity("N·m", symbol="T_rms", source=f"{SOURCE}: two cycles that run independently of each other", unless=apart,
          formula="√(rms_x² + rms_y² + 2·|mean_x·mean_y|)", label="RMS torque of both axes")
def pair_rms_torque(
    cycle_torque: CycleTorque, cycle_duration: Reals, train: tuple[Link, ...], shaft_inertia: Reals, travel_per_radian: Reals,
    rest_back_efficiency: Reals, fellow: Fellow,
) -> Reals:
    """RMS torque of one motor, both cycles running; cycle_duration [s]. What the other axis asks of this very motor goes through
    its train and turns its rotor, whichever motor is tried. Raises NotKnown.
    """
    (gravity,), (pieces, loads) = fellow.known("gravity_load"), fellow.cycle
    dwell = gravity / MOTORS * travel_per_radian * rest_back_efficiency
    its, lasts = torque_over(train, pieces, loads, shaft_inertia, travel_per_radian, dwell), np.sum(pieces.time_spent)
    means = mean_of(cycle_torque, cycle_duration) * mean_of(its, lasts)
    return np.sqrt(rms_of(cycle_torque, cycle_duration) ** 2 + rms_of(its, lasts) ** 2 + 2 * np.abs(means))


@quantity("", symbol="d_T", source="tone of a span: f ∝ √T", unless=apart, shown="%", label="Difference of both tones",
          formula="2·|√T_A − √T_B| ÷ (√T_A + √T_B)")
def pair_tone_difference(tone_tension: Reals, fellow: Fellow) -> Reals:
    """How far the tones of both belts differ, at equal spans. Raises NotKnown while only one was plucked."""
    if fellow.tone_tension is None:
        raise NotKnown(f"the belt of {fellow.name} was not plucked yet", "tone_reading")
    one, other = np.sqrt(tone_tension), np.sqrt(fellow.tone_tension)
    return 2 * np.abs(one - other) / (one + other)


@quantity("", symbol="k_A/k_B", source="a diagonal hangs on one belt", unless=apart, label="Stiffness of belt A over B",
          formula="compliance along B ÷ along A")
def pair_stiffness_ratio(push_reading: PushReading, push_compliance: Reals, fellow: Fellow) -> Reals:
    """Which belt is softer, by pushes along both diagonals. Raises NotKnown while one of them is missing."""
    along = {push_reading.direction: float(push_compliance), fellow.push_direction: fellow.push_compliance}
    one, other = along.get("A"), along.get("B")
    if one is None or other is None:
        raise NotKnown("pushes along both diagonals are needed: one A, one B", "push_reading")
    return other / one



@record(frozen=True, eq=False, repr=False)
class OthersPart:
    """What the other axis of a pair adds at its hardest to one motor: torque [N·m] and travel a second [m/s]."""

    torque: Reals
    speed: Reals


@quantity("", symbol="", source=SOURCE, unless=apart, structure=True, formula="T_AB·p_f, and the top speed of the other axis")
def others_part(pair_peak_torque: Reals, pair_share: Reals, fellow: Fellow) -> OthersPart:
    """What of torque and speed of one motor is left to the other axis. Raises NotKnown."""
    return OthersPart(pair_peak_torque * pair_share, fellow.known("top_speed")[0])
