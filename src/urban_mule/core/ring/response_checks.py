"""What a response shows, and what to turn next."""

from __future__ import annotations

import math

from urban_mule.core.ring.response import Answer
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.verdict import Verdict, check
from urban_mule.core.sheet.wording import size

NEAR = 0.2  # of a resonance: a ringing within is taken for it
OVER, A_LITTLE = 0.05, 0.25  # of the change: an overshoot that is too much; and much too much
CREEPS = 5.0  # times 1/k_v: a settling that is longer without ringing creeps
NO_MODE = "Lower the gain or the acceleration by a third and take it again."


@check("response", stage="Ring", applies=lambda solution: solution.get("response_reading") is not None)
def response_shows(
    response_answer: Answer, response_overshoot: Reals = None, response_settling_time: Reals = None, response_ringing: Reals = None,
    free_resonance: Reals = None, first_axial_mode: Reals = None, position_gain: Reals = None, position_gain_rule: Reals = None,
    velocity_sample_time: Reals = None,
) -> Verdict:
    """The last response, and the next thing to turn."""
    servo = position_gain_rule is not None or position_gain is not None or velocity_sample_time is not None
    followed = position_gain or position_gain_rule
    if response_ringing is not None:
        return _rings(float(response_ringing), free_resonance or first_axial_mode, followed, servo)
    if response_answer.change == 0:
        return Verdict("unknown", "The command ends where it began: overshoot and settling are shares of a change.",
                       "Take a response to a step or a move that ends elsewhere.")
    if response_settling_time is None:
        return Verdict("tight", "The record ends before it has settled.", "Record longer after the move, and look again.",
                       headroom=0.2)
    said = f"It settles {size(1000 * float(response_settling_time))} ms after its command rests"
    over = 0.0 if response_overshoot is None else float(response_overshoot)
    if over > OVER:
        return Verdict("short" if over > A_LITTLE else "tight", f"It overshoots by {size(100 * over)} % and does not ring.",
                       "Integral time up by a half, or feedforward down; nothing else at once." if servo else NO_MODE,
                       headroom=0.0 if over > A_LITTLE else 0.3, measure=-over)
    if servo and followed and float(response_settling_time) > CREEPS / float(followed):
        return Verdict("tight", f"{said}, without ringing: it creeps in.",
                       "Position gain up by a fifth at most; if that changes nothing, friction holds it.", headroom=0.3,
                       measure=-float(response_settling_time))
    return Verdict("good", f"{said}, overshoots by {size(100 * over)} % and does not ring.", "Nothing to turn.", headroom=0.8)


def _rings(ringing: float, resonance: Reals, position_gain: Reals, servo: bool) -> Verdict:
    said = f"It rings at {size(ringing)} Hz after its command rests"
    if not servo:
        return Verdict("tight", f"{said}.", NO_MODE, headroom=0.2)
    if resonance is not None and abs(math.log(ringing / float(resonance))) < NEAR:
        return Verdict("short", f"{said}, where the train swings ({size(float(resonance))} Hz).",
                       "Velocity gain down by a third, or a notch there; then look again.", headroom=0.0)
    if position_gain is not None and 2 * math.pi * ringing < float(position_gain):
        return Verdict("tight", f"{said}, slower than the position loop: the integral hunts.", "Integral time up by a half.",
                       headroom=0.2)
    return Verdict("short", f"{said}: the loop is near where it sings.", "Velocity gain down by a third; then look again.",
                   headroom=0.0)
