"""Why a spectrum has several humps or a smear, for this very train, each with the test that tells it apart."""

from __future__ import annotations

from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.sensor import SensorFaults
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt

SMEARED, SHARE = 0.2, 0.15  # damping ratio above which a hump is a smear; share of the power from which a mode counts
NEAR = 0.12  # share within which a mode lies at another frequency
PLAY, SLACK = 3e-5, 0.8  # m of free play that is a loose guide; share of its tension below which a belt is slack
PRESSED = "Repeat it with the sensor pressed on by hand: the hump moves or goes."
HUNG_FREE = "Disconnect the cable, hang it free, and record again."
PUSHED = "Push the carriage: free play is a loose guide. Set its preload, and record again."
PLUCKED = "Pluck it and read its tone; tension it, and record again: the lowest hump moves up."
OTHER_CURRENT = "Lower the current by a third and record again: what is the motor's moves."
BOTH_ENDS = "Record at both ends of the travel: a frame rings the same at both, a rail does not."


@record(frozen=True, eq=False, repr=False)
class RingCause:
    """A cause: what it is, what speaks for it here, what tells it apart, the kind of reading that does (or nothing), its weight.

    place: where it sits: a kind of link, motor, guide, frame, sensor or cable.
    """

    name: str
    why: str
    test: str
    reading: str
    weight: float
    place: str


SOURCE = "practice of machine building: the sensor first, then what hangs loose, then what is bent"
RANKED = "ranked by what in this record and train speaks for it"


def causes_of(
    modes: tuple[Mode, ...], train: tuple[Link, ...], sensor_faults: SensorFaults | None, free_play: Reals,
    tone_tension: Reals, first_resonance: Reals = None,
) -> tuple[RingCause, ...]:
    """What may make several humps or a smear, the likeliest first; nothing where one clear mode rings.

    free_play: [travel]; tone_tension: [N]; first_resonance: [Hz].
    """
    strong = [mode for mode in modes if mode.strength >= SHARE]
    smeared = [mode for mode in strong if mode.damping_ratio > SMEARED]
    if len(strong) < 2 and not smeared:
        return ()
    smear = f"a hump at {smeared[0].frequency:.1f} Hz is a smear, damping {size(smeared[0].damping_ratio, 2)}" if smeared else ""
    humps = f"{len(strong)} humps share the power" if len(strong) > 1 else smear
    at_stops = sensor_faults is not None and sensor_faults.clipped > 0
    found = [
        RingCause("loose sensor", "samples stand at its stops" if at_stops else humps, PRESSED, "acceleration",
                  0.9 if at_stops else 0.5, "sensor"),
        RingCause("dragging cable", smear or humps, HUNG_FREE, "acceleration", 0.7 if smeared else 0.35, "cable")]
    play = free_play is not None and free_play > PLAY
    why = f"{free_play * 1e6:.0f} µm of free play were pushed" if play else humps
    found.append(RingCause("loose guide", why, PUSHED, "push", 0.8 if play else 0.45, "guide"))
    belt = next((link for link in train if isinstance(link, Belt)), None)
    if belt is not None:
        slack = tone_tension is not None and belt.pretension is not None and tone_tension < SLACK * belt.pretension
        why = f"it pulls {size(tone_tension)} N of {size(belt.pretension or 0.0)} N" if slack else humps
        found.append(RingCause("slack belt", why, PLUCKED, "tone", 0.9 if slack else 0.5, "belt"))
    if first_resonance is not None:
        near = any(abs(mode.frequency / first_resonance - 1) <= NEAR for mode in strong)
        why = f"{size(first_resonance)} Hz is computed for it, its field a spring" if near else humps
        found.append(RingCause("rotor on its magnetic spring", why, OTHER_CURRENT, "acceleration", 0.75 if near else 0.2,
                               "motor"))
    found.append(RingCause("bent frame or rail", humps, BOTH_ENDS, "acceleration", 0.3, "frame"))
    return tuple(sorted(found, key=lambda one: -one.weight))
