"""Judgements on measured backlash: how much, of what kind, how it grows, and the tension and preload that make it."""

from __future__ import annotations

import numpy as np

from urban_mule.core.load.fellow import Fellow
from urban_mule.core.readings.drag import DragReading
from urban_mule.core.readings.push import PushReading
from urban_mule.core.readings.tone import ToneReading
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.verdict import Verdict, check, taken
from urban_mule.core.sheet.wording import effort, microns, microns_sure, size
from urban_mule.core.slack.parts import tension_of
from urban_mule.core.slack.trend import WearLine, grows, limit_of, shows_a_trend, wear_rate
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt

SOON = 90.0  # days: a repair that is due within them is planned now
MONTH = 30.0
TELLS_NOTHING = ("Find what makes the readings scatter first: a loose indicator, lost steps, a coil connected wrongly (Moves,"
                 " coils). Then take more repeats.")
PLAY_OR_RUBS = ("Take a push test: it tells play, which preload, pinion, coupling or belt tension take out, from a guide that"
                " binds, is dirty or dry.")
RUBS = ("Hardly any of it is free play: a guide that binds, is dirty or dry, or a cable that drags. Clean, align and oil; then"
        " measure again.")
HARDLY_PLAY = 0.5  # share of a backlash below which free play does not make it
PAIRED, TENSE, LOOSE = 0.1, 0.1, 0.3  # share by which belts of a pair, and a belt and its pretension, may differ


@check("backlash", stage="Slack", main=True)
def backlash_against_goal(
    backlash: float, reversal_profile: np.ndarray, accuracy_wanted: float, unit: str, backlash_uncertainty: Reals = None,
    free_play: Reals = None, free_play_uncertainty: Reals = None,
) -> Verdict:
    """Measured backlash against the accuracy that the Brief asks for."""
    share, b = backlash / accuracy_wanted, microns_sure(backlash, backlash_uncertainty, unit)
    school = "Repair first; compensate the small, stable rest."
    if backlash_uncertainty is not None and abs(np.mean(reversal_profile)) <= 2 * backlash_uncertainty:
        most = share + 2 * backlash_uncertainty / accuracy_wanted
        told = f"Backlash is {b}: less than these readings can tell from none"
        if most <= 1 / 3:
            return Verdict("good", f"{told}, {size(100 * most)} % of the accuracy wanted at most.",
                           "Leave it; a finer gauge or more repeats would show more.", school, 1 - most)
        return Verdict("tight", f"{told}, and they leave room for {size(100 * most)} % of the accuracy wanted.", TELLS_NOTHING,
                       school, 0.1)
    if share > 1:
        return Verdict("short", f"Backlash is {b}, {size(share)} times the accuracy wanted.",
                       _where_from(backlash, free_play, free_play_uncertainty), school, 0.0)
    if share > 1 / 3:
        return Verdict("tight", f"Backlash is {b}, {size(100 * share)} % of the accuracy wanted.",
                       "Adjust the preload; compensate what is left.", school, (1 - share) / 2)
    return Verdict("good", f"Backlash is {b}, {size(100 * share)} % of the accuracy wanted.",
                   "Compensate it, and watch the trend.", school, 1 - share)


def _where_from(backlash: float, free_play: Reals, free_play_uncertainty: Reals) -> str:
    """Whether play is to be found, or what rubs; while nobody has pushed, the push test that tells."""
    if free_play is None:
        return PLAY_OR_RUBS
    if float(free_play) + 2 * float(free_play_uncertainty or 0.0) < HARDLY_PLAY * backlash:
        return RUBS
    return "Find the play: preload, pinion, coupling, belt tension. Then measure again."


@check("play or spring", stage="Slack", applies=taken("push_reading"))
def play_or_spring(
    free_play: float, push_compliance: float, push_reading: PushReading, accuracy_wanted: float, unit: str,
    friction_load: Reals = 0.0, motor_count: Reals = 1, free_play_uncertainty: Reals = None,
) -> Verdict:
    """What of the lost motion under a push is free play and what is spring: each is mended in its own way."""
    hardest = float(np.max(push_reading.forces))
    spring, u = push_compliance * 2 * hardest, free_play_uncertainty or 0.0
    held = float(friction_load) / float(motor_count)
    said = f"Pushed by {effort(hardest, unit)} both ways it gives {microns(spring, unit)} as a spring"
    school = "Play is taken out by preload; spring only by a stiffer part. No compensation mends spring."
    if free_play < -2 * u and free_play_uncertainty is not None:
        return Verdict("unknown", f"{said}; free play cannot be told: more friction holds it than the {effort(held, unit)} that are"
                       " given.", "Give the friction on Load, or push harder than it.", school)
    if free_play <= 2 * u:
        most = (max(free_play, 0.0) + 2 * u) / accuracy_wanted
        told = f"{said}; free play cannot be told from none, up to {microns(max(free_play, 0.0) + 2 * u, unit)} of it"
        if free_play_uncertainty is None:
            return Verdict("unknown", f"{said}; two forces do not show how sure the free play is.", "Push with a third force.",
                           school)
        if most <= 1 / 3:
            return Verdict("good", f"{told}, {size(100 * most)} % of the accuracy wanted.",
                           "Leave the preload; a stiffer part makes the spring less.", school, 1 - most)
        return Verdict("tight", f"{told}, {size(100 * most)} % of the accuracy wanted.",
                       "Push with more and larger forces, well above the friction.", school, 0.2)
    free = f"{said}, and has {microns_sure(free_play, free_play_uncertainty, unit)} of free play"
    if free_play > accuracy_wanted:
        return Verdict("short", f"{free}, more than the accuracy wanted.", "Take the play out, then push again.", school, 0.0)
    share = free_play / accuracy_wanted
    if share > 1 / 3:
        return Verdict("tight", f"{free}, {size(100 * share)} % of the accuracy wanted.",
                       "Look at the preload before it grows.", school, (1 - share) / 2)
    return Verdict("good", f"{free}, {size(100 * share)} % of the accuracy wanted.", "Compensate the play, not the spring.", school,
                   1 - share)


@check("wear", stage="Slack", applies=shows_a_trend)
def wear(
    wear_line: WearLine, unit: str, wear_days_left: Reals = None, backlash_limit: Reals = None, accuracy_wanted: Reals = None,
    wear_rate_uncertainty: Reals = None,
) -> Verdict:
    """Whether the backlash grows beyond its scatter, and when it reaches its limit. Raises NotKnown."""
    span, count = float(np.ptp(wear_line.days)), wear_line.days.size
    over = f"over {count} sets in {size(span)} days"
    if not grows(wear_line):
        return Verdict("good", f"Backlash does not grow beyond its scatter {over}.", "Measure again after the next repair.",
                       headroom=0.9)
    pace = microns_sure(MONTH * wear_rate(wear_line), MONTH * float(wear_rate_uncertainty or 0.0), unit)
    said = f"Backlash grows by {pace} a month {over}"
    limit_of(backlash_limit, accuracy_wanted)
    if wear_days_left is None:
        raise NotKnown("the day of its limit cannot be told")
    if wear_days_left == 0:
        return Verdict("short", f"{said}, and is past its limit.", "Repair it now; then measure again.", headroom=0.0)
    due = f"{said}; at this pace it reaches its limit {size(wear_days_left)} days after the last set."
    if wear_days_left < SOON:
        return Verdict("tight", due, "Order the wearing part, and plan the repair.", headroom=wear_days_left / SOON / 2)
    return Verdict("good", due, "Measure again within half of that time.", headroom=min(1.0, 0.5 + wear_days_left / SOON / 20))


@check("belt tone", stage="Slack", applies=taken("tone_reading"))
def belt_tone(
    tone_tension: float, tone_readings: tuple[ToneReading, ...], train: tuple[Link, ...], fellow: Fellow | None = None
) -> Verdict:
    """Tension by the tone against the pretension of the belt, and against the other belt of this axis, the reading before.

    Raises NotKnown.
    """
    other = tension_of(tone_readings[-2]) if len(tone_readings) > 1 and fellow is None else None
    if other is not None and abs(tone_tension / other - 1) > PAIRED:
        return Verdict("tight", f"This belt pulls {size(tone_tension)} N, the one measured before it {size(other)} N.",
                       "Belts of a pair are to agree: tighten the slacker one, then pluck both again.", headroom=0.2)
    wanted = next((one.pretension for one in train if isinstance(one, Belt) and one.pretension), None)
    if wanted is None:
        raise NotKnown(f"the belt pulls {size(tone_tension)} N; no belt of the train has a pretension to hold it against")
    share, said = tone_tension / wanted, f"The belt pulls {size(tone_tension)} N of the {size(float(wanted))} N wanted"
    if share < 1 - LOOSE:
        return Verdict("short", f"{said}: slack.", "Tighten it and pluck again; a slack belt skips teeth.", headroom=0.0)
    if abs(share - 1) > TENSE:
        way = ("Tighten", "too little") if share < 1 else ("Slacken", "too much")
        return Verdict("tight", f"{said}: {way[1]}.", f"{way[0]} it and pluck again.", headroom=0.2)
    return Verdict("good", f"{said}.", "Leave it.", headroom=0.8)


@check("preload", stage="Slack", applies=taken("drag_reading"))
def preload_in_range(preload_torque: float, drag_reading: DragReading) -> Verdict:
    """The torque that just turns a preloaded shaft against the range that was written down with it. Raises NotKnown."""
    low, high = drag_reading.lowest, drag_reading.highest
    if low is None and high is None:
        raise NotKnown(f"it drags with {size(preload_torque)} N·m; the range wanted was not written down with the reading")
    said = f"The preload drags with {size(preload_torque)} N·m"
    if low is not None and preload_torque < low:
        return Verdict("short", f"{said}, less than the {size(low)} N·m wanted.",
                       "Tighten the nut a little, the way that loads it, and turn it by hand: even, without a catch.", headroom=0.0)
    if high is not None and preload_torque > high:
        return Verdict("tight", f"{said}, more than the {size(high)} N·m wanted.",
                       "Slacken it: too much preload runs hot and wears.", headroom=0.1)
    return Verdict("good", f"{said}, within the range wanted.", "Leave it; it should turn evenly, without a catch.", headroom=0.8)
