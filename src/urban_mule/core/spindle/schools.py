"""Where practitioners differ about drives that turn a tool: what lies between, what stops it, where its encoder sits, its mode."""

from __future__ import annotations

from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class Option:
    """One way, what it gives and what it gives up."""

    name: str
    gives: str
    gives_up: str


TRANSMISSIONS: tuple[Option, ...] = (
    Option("direct", "nothing between, no noise of its own, no lag", "the motor's speed and torque are the tool's"),
    Option("gear", "any ratio, stiff, much torque in little room", "teeth that sing and want oil; clearance at every reversal"),
    Option("toothed belt", "no slip: angle is kept, threads can be cut", "teeth that sing, louder as they are faster and coarser"),
    Option("v-belt", "quiet, takes a blow, slips before something breaks", "slip: it slows a little in the cut, and angle is lost"))
BRAKES: tuple[Option, ...] = (
    Option("coasting", "nothing to buy, nothing to burn", "it runs on, and a tool that runs on hurts"),
    Option("drive", "quick, without wear; what it carries goes into a resistor",
        "does nothing once the power is gone, at the stop least of all"),
    Option("brake", "stops without power", "wears; a brake made for holding a motor is too weak for a tool"))
ENCODERS: tuple[Option, ...] = (
    Option("motor", "stiff control, the drive's own", "does not see the belt: lag and slip stay outside the loop"),
    Option("tool", "sees what the tool really does, threads come true", "the belt lies in the loop and wants a softer one"),
    Option("none", "nothing to wire", "speed as the drive estimates it; no angle"))
CONTROL_MODES: tuple[Option, ...] = (
    Option("position", "angle by pulses: threads, stopping at an angle", "wants pulses at the top speed, and an encoder"),
    Option("velocity", "speed by a voltage or a bus, simple, quick", "no angle; the voltage drifts and wants a measured table"),
    Option("torque", "a pull that stays the same, as for winding",
           "runs away when nothing holds against it: set a speed limit first"))
LOOP_IN_LOOP = ("A drive that closes its own loop wants no second one around it: two loops that fight over one speed are a known"
                " way to lose days. Close one, in one place.")
