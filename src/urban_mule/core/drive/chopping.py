"""Quiet or strong chopping of the current, or a change from one to the other at a speed."""

from __future__ import annotations

import dataclasses

import numpy as np

from urban_mule.core.load.moments import CycleTorque, greatest
from urban_mule.core.motor.margin import TorqueCurve, shortage
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity

CHOPPINGS = ("quiet", "strong", "both")
TICKED = 256  # parts of a full step whose time drivers count in ticks of their clock
NEAR = 0.1  # of a speed: nearer than that a changeover is heard


class Chopping:
    """How the driver holds the current."""

    chopping: str | None = given("", "", "quiet, strong, or quiet below a speed and strong above it", choices=CHOPPINGS)
    changeover_speed: Reals = given("[travel]/s", "v_x", "speed at which quiet gives way to strong", above=0,
        label="Changeover speed")
    driver_clock: Reals = given("Hz", "f_c", "clock whose ticks the driver counts", above=0, shown="MHz")
    quiet_torque_share: Reals = given("", "q", "share of the pull-out torque that quiet chopping keeps", above=0, most=1, shown="%",
        label="Torque share in quiet mode")


def does_not_change_over(chopping: str | None) -> str:
    """Why nothing is to be said of a changeover."""
    return "" if chopping in (None, "both") else "the driver does not change over"


def never_quiet(chopping: str | None) -> str:
    """Why nothing is to be said of quiet chopping."""
    return "the chopping is never quiet" if chopping == "strong" else ""


@quantity("rad/s", symbol="ω_x", source="kinematics", shown="rpm", label="Changeover at the shaft", unless=does_not_change_over)
def changeover_shaft_speed(changeover_speed: Reals, travel_per_radian: Reals, chopping: str | None = None) -> Reals:
    """Shaft speed at which the chopping changes; changeover_speed [travel/s]. Raises NotKnown where nobody said that it does."""
    if chopping is None:
        raise NotKnown("whether the chopping is quiet or strong is not given", "chopping")
    return changeover_speed / travel_per_radian


@quantity("", symbol="k_x", source="clock ticks in one 256th of a full step", formula="f_c·α ÷ (256·ω_x)",
          label="Changeover, ticks", unless=does_not_change_over)
def changeover_ticks(driver_clock: Reals, step_angle: Reals, changeover_shaft_speed: Reals) -> Reals:
    """What to enter where the changeover is counted in ticks, not rounded; driver_clock [Hz], step_angle [rad]."""
    return driver_clock * step_angle / (TICKED * changeover_shaft_speed)


@quantity("Hz", symbol="f_x", source="kinematics", formula="ω_x ÷ α", label="Changeover, full steps", unless=does_not_change_over)
def changeover_full_step_rate(changeover_shaft_speed: Reals, step_angle: Reals) -> Reals:
    """Full steps a second at the changeover; changeover_shaft_speed [rad/s], step_angle [rad]."""
    return changeover_shaft_speed / step_angle


def below_speed(c: CycleTorque, limit: Reals) -> CycleTorque:
    """The pieces cut where the shaft passes a speed [rad/s], with those above it standing still; for a single build."""
    sign = np.where(c.pieces.direction < 0, -1.0, 1.0)
    s0, s1, bend = sign * c.speed_start, sign * c.speed_end, sign * c.bend
    a, b = -4.0 * bend, s1 - s0 + 4.0 * bend  # |speed| = s0 + b·share + a·share²
    root = np.sqrt(np.maximum(b**2 - 4 * a * (s0 - limit), 0.0))
    with np.errstate(all="ignore"):
        q = -0.5 * (b + np.where(b < 0, -root, root))
        roots = [np.where((r > 0) & (r < 1), r, 1.0) for r in (q / a, (s0 - limit) / q)]
    edges = np.sort(np.stack([np.zeros_like(s0), *(np.nan_to_num(r, nan=1.0) for r in roots), np.ones_like(s0)]), axis=0)
    first, last = edges[:-1], edges[1:]
    part = last - first

    def speed(share: Reals) -> Reals:
        return c.inside(share)[0]

    middle = np.abs(speed((first + last) / 2))
    rows = {one.name: np.broadcast_to(getattr(c.pieces, one.name), part.shape).ravel() for one in dataclasses.fields(c.pieces)}
    rows["duration"] = (c.pieces.duration * part).ravel()
    torque = c.end - c.start
    return CycleTorque(
        (c.start + torque * first).ravel(), (c.start + torque * last).ravel(), speed(first).ravel(), speed(last).ravel(),
        (c.bend * part**2).ravel(), (c.moving & (part > 0) & (middle <= limit)).ravel(), type(c.pieces)(**rows), c.bent)


@quantity("", symbol="m_q", source="least ratio over the moving time at or below the changeover; the whole cycle when always quiet",
          formula="min q·T_po(ω) ÷ |T|", label="Torque margin in quiet mode", unless=never_quiet)
def quiet_margin(
    torque_curve: TorqueCurve, cycle_torque: CycleTorque, quiet_torque_share: Reals, chopping: str | None = None,
    changeover_shaft_speed: Reals = None,
) -> Reals:
    """How many times the torque needed is there while the chopping is quiet. Raises NotKnown."""
    if chopping is None:
        raise NotKnown("whether the chopping is quiet or strong is not given", "chopping")
    if chopping == "both" and changeover_shaft_speed is None:
        raise NotKnown("the speed of the changeover is not given", "changeover_speed")
    quiet = cycle_torque if chopping == "quiet" else below_speed(cycle_torque, changeover_shaft_speed)
    margin = -quiet_torque_share * greatest(quiet, shortage(torque_curve))[0]
    if not np.all(np.isfinite(margin)):
        raise NotKnown("nothing is asked of the motor while it is quiet")
    return margin
