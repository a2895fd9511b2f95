"""Stations from assembly to first power, made from this very axis: what could hurt, what to do, what to see."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from urban_mule.core.drive.interface import WANTED
from urban_mule.core.drive.waiting import CHARGE
from urban_mule.core.sheet.alike import within
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.wording import size

STATES = ("done", "not done", "otherwise")
ROUNDED = 1e-6  # share within which a number of the day is the one that a step was answered at
STILL_CHARGED = 60.0  # V from which a supply's charge is dangerous to touch; below it can still weld and burn
Facts = Mapping[str, Any]


@record(frozen=True, eq=False, repr=False)
class Station:
    """One thing to do before the axis is moved. rests_on: the facts of which a change makes it due again."""

    name: str
    caution: str
    do: str
    see: str
    rests_on: tuple[str, ...] = ()


@record(frozen=True, eq=False, repr=False)
class StationStand:
    """A station with how it stands: done, not done, otherwise, due again or open; since: what changed after it was answered."""

    station: Station
    state: str
    since: str = ""


def stations_of(facts: Facts) -> tuple[Station, ...]:
    """The stations of an axis in their order.

    facts: what is known of it in words and numbers, by name: links (tuple of kinds), motion, vertical, rises (its counterbalance
    outweighs it), locks (its train holds it), motor kind, motors, leads, brake, driver, interface, address, supply voltage, banks,
    belt tension, stall signal, moves with (the other axis of its pair); a fact that is not known is left out.
    """
    return (*_held(facts), *_assembly(facts), *_wiring(facts), *_power(facts))


HANGS = " The load hangs: block or hoist carries it the whole time, and no hand is under it."


def _held(facts: Facts) -> list[Station]:
    """What comes before everything else on an axis that moves by itself: it is blocked."""
    if not facts.get("vertical"):
        return []
    up = facts.get("rises")
    way = "rises onto what is above it" if up else "drops"
    held = "Try the brake: release it for a blink over a block of wood" if facts.get("brake") else (
        f"It has no brake: keep the block {'above' if up else 'beneath'} it whenever power is off")
    return [Station("what falls" if not up else "what rises", f"This axis {way} when nothing holds it. Never a hand or a head in"
                    " its way. A gas spring, a rope or a counterweight can fail.",
                    f"Block the load from {'above' if up else 'beneath'} before anything else is touched. {held}.",
                    "It stays where it is, power on and off.", ("vertical", "brake", "motor"))]


def _assembly(facts: Facts) -> list[Station]:
    """How it goes together, where that decides what is measured later."""
    links = facts.get("links", ())
    pinch = "Nothing is powered. Fingers out of belts, pinions and between carriage and end." + (
        HANGS if facts.get("vertical") else "")
    found = []
    if "screw" in links:
        found += [
            Station("preload nut", pinch,
                    "Put the preloaded nut on the right way round: its sprung half away from the load's usual pull. Turn the screw"
                    f" by hand over the whole travel{', the load off it or carried by a hoist' if facts.get('vertical') else ''}.",
                    "It drags slightly and evenly. Free play means no preload; roughness means too much, or dirt.", ("train",)),
            Station("alignment at the near end", pinch,
                    "Loosen the nut's mount, bring the carriage as near to the fixed bearing as it goes, tighten the mount there,"
                    " then go to the far end and feel.",
                    "It turns as easily at the near end as at the far one.", ("train",))]
    if "coupling" in links:
        found.append(Station("motor before coupling", pinch,
                             "Tighten the motor's screws first, then the coupling on the screw, then on the motor: so nothing is"
                             " pressed along its axis. Set screws stand on the flat.",
                             "The coupling is neither stretched nor squeezed; a mark across it stays in line after a hard stop.",
                             ("train", "motor")))
    if "belt" in links:
        pulled = f" to {facts['belt tension']:.3g} N" if facts.get("belt tension") else ""
        found.append(Station("belt tension", pinch,
                             f"Tension the belt{pulled}, the carriage at mid-travel; the pulley's set screws stand on the flat,"
                             " with thread lock. The tone of the free span tells its tension: on Slack.",
                             "Both strands stay tight when the carriage is pushed hard either way; the belt runs off no flange.",
                             ("train",)))
    if facts.get("moves with"):
        found.append(Station("both belts alike", pinch,
                             f"Square the bridge first, then tension both belts alike, that of {facts['moves with']} too, the"
                             " gantry at the same place each time: Slack, tone.",
                             "Both belts sound alike; the gantry pushed by hand along either axis does not go askew.",
                             ("train", "moves with")))
    if "rack" in links:
        found.append(Station("pinion seated and sprung", pinch,
                             "Seat the pinion on the rack along the whole travel, then load its spring. Both screws of the pinion"
                             " stand on the flat.",
                             "No tooth knocks when the carriage is rocked by hand, at either end and in the middle.", ("train",)))
    if "feed roller" in links:
        found.append(Station("pressure of the feed roller", pinch,
                             "Thread the stock in by hand, set the pressure so that the roller just does not slip when the stock is"
                             " held back. Its set screw stands on the flat.",
                             "A stroke across stock and roller stays one line after ten hard starts; the stock is not flattened.",
                             ("train",)))
    if int(facts.get("motors", 1)) > 1:
        found.append(Station("beam square before its motors", pinch,
                             "Bring both sides against their stops with the motors free, then fasten the second side.",
                             "Both sides touch together; the beam rolls without a hand that steers it.", ("train", "motors")))
    return found


def _wiring(facts: Facts) -> list[Station]:
    off = "Power off and the plug out. Mains is wired by a licensed electrician under local code."
    voltage = facts.get("supply voltage")
    charge = f" {CHARGE}" + ("" if voltage is None else f" Its {size(voltage)} V can kill." if voltage >= STILL_CHARGED else
                             f" Its {size(voltage)} V burn rings and tools.")
    found = [
        Station("old wiring photographed", off, "Take a photograph of the wiring as it is, each connector near enough to read,"
                " and put labels on both ends.", "One can put it back from the picture alone."),
        Station("polarity and connectors", off + charge,
                "Measure the polarity at the driver's terminals before the plug goes in. Tug at each wire; look for strands that"
                " reach to the next terminal.", "Plus is on plus. Each connector clicks and stands the right way round.",
                ("driver", "supply voltage")),
        Station("coils", off + " Unplug the motor before it is turned by hand: turned, it makes a voltage that can destroy the"
                               " driver.",
                "Find the leads that belong together with the ohmmeter: leaf coils." if facts.get("motor kind") == "stepper" else
                "Compare motor, encoder and brake plug with the sheet, lead by lead.",
                "Each phase has its own two leads." if facts.get("motor kind") == "stepper" else "Each lead is where the sheet"
                " has it.",
                ("motor", "leads", "wiring")),
        Station("screws and boards", off, "Picture the cabinet upside down: count screws, washers and strands. No board lies on"
                " metal; no screw reaches a track.", "Nothing loose, nothing touching.", ("driver",)),
        Station("cable slack at full travel", "Nothing is powered. Fingers out of chain and guide." + (
                    HANGS if facts.get("vertical") else ""), _to_both_ends(facts),
                "No cable is pulled, bent hard or rubbed, and the chain does not lift.", ("travel",))]
    if int(facts.get("motors", 1)) > 1:
        found.append(Station("leader and follower alike", off + charge,
                             "Lay both drivers side by side: switches, jumpers, trimmer, wires. The second motor turns the other"
                             " way where it is mounted mirrored.",
                             "They differ in nothing but what was meant: see the tag, leader and follower.",
                             ("driver", "follower", "microsteps", "current_peak")))
    if facts.get("moves with"):
        found.append(Station("both motors alike", off + charge,
                             f"Lay its driver and that of {facts['moves with']} side by side: switches, jumpers, trimmer, wires.",
                             "They differ in nothing: with unlike steps a move along one axis goes askew.",
                             ("driver", "moves with", "microsteps", "current_peak")))
    mode = facts.get("interface")
    if mode in WANTED:
        wants = WANTED[mode]
        found.append(Station(f"interface: {mode}", off + charge, f"Set {wants.jumpers}. Wires: {wants.wires}.",
                             f"As drawn on Drive. {wants.left_wrong[:1].upper()}{wants.left_wrong[1:]}.", ("driver", "interface")))
    if facts.get("address") is not None and mode in ("bus", "single wire"):
        found.append(Station("address on the bus", off, f"Give this driver the address {facts['address']:g}, alone on the wire,"
                             " then join it.", "It answers at this address and at no other.", ("driver", "address")))
    return found


def _to_both_ends(facts: Facts) -> str:
    """How an axis is brought to both ends without power, as it can be."""
    if facts.get("locks"):
        return "It locks itself and cannot be pushed: turn the motor's shaft by hand to both ends, the motor unplugged."
    if facts.get("vertical"):
        return ("Do not push it and do not let it down by hand. Move it to both ends with a hoist that carries it, the brake"
                " released by its lever or its own supply; or look at the cables later, at the first slow moves.")
    return "Push the axis by hand to both ends, the motor unplugged."


def _power(facts: Facts) -> list[Station]:
    found = []
    first = "Low current first, half of what is computed" if facts.get("motor kind") == "stepper" else "Low torque limit first"
    found += [
        Station("emergency stop tried", "The emergency stop must remove power by a contactor; a soft stop is a convenience beside"
                " it. Local code decides; this program certifies nothing.",
                "Press it before the first move: the drivers go dark.", "Power is gone at every driver, and comes back only by"
                " hand."),
        Station("first power", "Nobody within reach, a hand on the stop, the coupling open or the belt off where that can be. Never"
                " plug or unplug a motor while its driver is on.",
                f"{first}; write that on the list of what is set only for now. Switch on, look, listen, smell.",
                "It holds without getting hot. Buzzing and not turning: a pair is crossed, see coils.",
                ("motor", "driver", "supply voltage", "current_peak")),
    ]
    if facts.get("moves with"):
        found.append(Station("two looks", "Low current, mid-travel, short and slow, a hand on the stop: either motor may move the"
                             " gantry along either axis.",
                             f"One short move of each axis alone, this one and {facts['moves with']}: leaf directions tells from"
                             " both which of eight ways the motors are wired.", "Each goes to its own plus.",
                             ("motor", "driver", "moves with")))
    return found


def stands(stations: tuple[Station, ...], answers: Mapping[str, tuple[str, Facts]], facts: Facts) -> tuple[StationStand, ...]:
    """How each station stands. answers: by the station's name what was answered, and the facts of then."""
    found = []
    for one in stations:
        if one.name not in answers:
            found.append(StationStand(one, "open"))
            continue
        state, then = answers[one.name]
        changed = [f"{name.replace('_', ' ')} was {_said(then.get(name))}, is {_said(facts.get(name))}" for name in one.rests_on
                   if not within(then.get(name), facts.get(name), ROUNDED)]
        found.append(StationStand(one, "due again" if changed and state == "done" else state, "; ".join(changed)))
    return tuple(found)


def _said(value: Any) -> str:
    if value is None:
        return "not known"
    return f"{value:.4g}" if isinstance(value, (int, float)) and not isinstance(value, bool) else str(value)
