"""What is decided before parts are bought, in the order in which one thing fixes the next, each with its schools."""

from __future__ import annotations

from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class School:
    """One way to decide, and when it is right."""

    name: str
    when: str


@record(frozen=True, eq=False, repr=False)
class Decision:
    """One station of the path: the question, its schools, what it fixes of later ones, the risk of deciding it too early.

    given: the field at which it stands in the project, to go there.
    """

    name: str
    question: str
    schools: tuple[School, ...]
    fixes: tuple[tuple[str, str], ...]
    risk: str
    given: str


DECISIONS: tuple[Decision, ...] = (
    Decision("mains", "What does the wall give: voltage, phases, rating of the circuit?", (
        School("as it is", "what is there carries the machine with a fifth to spare"),
        School("a new circuit", "the spindle or the supply takes more than it may give for hours; an electrician puts it in"),
        School("three phases", "a spindle of some kilowatts, or drives that reach full speed only on the higher voltage")),
        (("spindle", "its power, and on some drives its top speed"), ("motor voltage", "what a drive fed from the mains gets"),
         ("supply", "its input, and the share of the circuit it takes")),
        "nothing is decided before it", "mains_voltage"),
    Decision("spindle", "Does a drive turn a tool, and how strong?", (
        School("none", "nothing is cut"),
        School("as the heaviest cut asks", "the work is known, and the cut was calculated"),
        School("one size larger", "the work will grow, and mains and frame allow it")),
        (("controller", "whether it commands by pulses or by a voltage"),
         ("noise", "the greatest source of it")),
        "a spindle that the mains cannot feed, or feeds only to half its speed", "spindles"),
    Decision("controller", "What makes the motion?", (
        School("a board of its own", "few axes, a fixed kind of work, quick to start"),
        School("a computer", "kinematics of one's own, measuring in the loop, room to grow"),
        School("a motion card in a computer", "pulses of many axes at high rates, timing that no other program disturbs")),
        (("driver", "the mode it must listen to, and the pulses it gets"), ("noise", "which of its signals are the quiet ones"),
         ("stop", "what it may know of the stop, and what not")),
        "a controller that cannot make the pulses that the drivers and microsteps ask for", "max_pulse_rate"),
    Decision("driver", "What drives the motors?", (
        School("sockets on the board", "small motors, short leads, currents to some two amperes"),
        School("boxes of their own", "more current or voltage, fans, faults that are seen and swapped"),
        School("on the motor", "long machines, few leads, a bus")),
        (("motor", "the current and voltage it can have"), ("motor voltage", "the most the driver takes"),
         ("noise", "where the chopped currents run")),
        "drivers that do not speak as the controller does, or end below the motor's current", "current_limit"),
    Decision("motor", "Which motor on each axis, stepper or servo?", (
        School("stepper", "it holds without hunting, the speed is below where its torque falls away, price counts"),
        School("servo, one size up", "high speed, heat, it must notice when it is late; little is left above its rating"),
        School("stepper that reports back", "steps lost must be noticed, the speed is a stepper's")),
        (("motor voltage", "what the winding wants at the top speed"), ("supply", "power, and what comes back on stopping")),
        "a motor chosen before its driver runs at the driver's current, not its own", "rotor_inertia"),
    Decision("motor voltage", "With how many volts?", (
        School("by the torque needed", "the cycle is known: what the top speed takes with a reserve"),
        School("by a rule from the inductance", "only the data sheet is known"),
        School("as high as the driver takes", "speed counts more than heat and noise; leave room for what braking adds")),
        (("supply", "its voltage"), ("driver", "whether it is rated for that and what braking adds")),
        "a supply bought for a voltage that the driver is not rated for, or at which the motor is too slow", "supply_voltage"),
    Decision("supply", "Which supply?", (
        School("linear with a large capacitor", "heavy axes that brake often: it takes what comes back"),
        School("switching", "light axes; small, cool, steady; what comes back needs help"),
        School("one for each group", "axes of unlike voltage, or one that must not disturb the others")),
        (("stop", "what the contactor has to break, and the charge that is left"), ("noise", "its own ripple and leakage")),
        "a supply that shuts down when the machine brakes", "supply_kind"),
    Decision("stop", "What does the stop do?", (
        School("a contactor removes the power", "the safe approach: whatever the program does, the power is gone"),
        School("a contactor, and the controller told", "the same, and the place is not lost without notice"),
        School("contactor with a brake on what falls", "a vertical axis drops when the power goes")),
        (("noise", "leads that run past everything else"), ("supply", "where it is broken: before it or behind it")),
        "a stop that is added last runs where there was room, and often only through the program", "stop"),
    Decision("noise", "What is noisy, what is quiet, and what keeps them apart?", (
        School("distance and order", "there is room: noisy leads on one side, quiet ones on the other, crossing square"),
        School("shields and filters", "they must run together; shields on earth at one agreed place, a filter at the mains"),
        School("slow inputs", "a switch may be late by some milliseconds: safety calculates how far the axis goes in them")),
        (), "noise that is met last is looked for in the program for weeks", "noise"),
)
NAMES = tuple(one.name for one in DECISIONS)


def before(name: str) -> tuple[str, ...]:
    """The decisions that come before one."""
    return NAMES[:NAMES.index(name)]


def decision(name: str) -> Decision:
    """The decision of a name. Raises KeyError."""
    return {one.name: one for one in DECISIONS}[name]


def rests_on(name: str) -> tuple[str, ...]:
    """The earlier decisions that fix something of this one."""
    return tuple(one.name for one in DECISIONS if one.name in before(name) and any(fixed == name for fixed, _ in one.fixes))
