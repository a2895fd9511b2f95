"""How a driver is spoken to, and what feeds its logic: pulses alone, one wire, or a bus that several share."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.record import record

INTERFACE_MODES = ("pulse", "single wire", "bus")
LOGIC_SUPPLIES = ("of its own", "from the controller", "from the motor supply")
SIGNALS = ("step", "direction", "enable", "bus", "stall_signal", "lower_end_switch", "upper_end_switch", "fan", "brake")


class DriverInterface:
    """How a driver is spoken to."""

    interface_mode: str | None = given("", "", "how the driver takes its settings", choices=INTERFACE_MODES, label="Interface")
    bus_address: Reals = given("", "", "its address where several share a wire", whole=True, least=0, label="Bus address")
    logic_supply: str | None = given("", "", "what feeds its logic", choices=LOGIC_SUPPLIES, label="Logic supply")
    logic_voltage: Reals = given("V", "V_l", "voltage of its logic", above=0)


@record(frozen=True, eq=False, repr=False)
class ModeWants:
    """What an interface mode wants, and what comes of it when a jumper or wire is left as for another."""

    jumpers: str
    wires: str
    signals: tuple[str, ...]
    left_wrong: str


WANTED: dict[str, ModeWants] = {
    "pulse": ModeWants(
        "the mode jumpers for pulses; current and microsteps by switches, trimmer or jumpers",
        "step, direction and enable, each with its return", ("step", "direction", "enable"),
        "left at bus or single wire it ignores its switches and runs on what it wakes up with: other current, other microsteps"),
    "single wire": ModeWants(
        "the mode jumpers for one wire, and the address jumpers where several share it",
        "step, direction, enable, and one wire that carries the settings both ways", ("step", "direction", "enable", "bus"),
        "left at pulses nothing that is typed arrives: it runs on its switches, and steps per unit are off by their ratio"),
    "bus": ModeWants(
        "the mode jumpers for the bus, an address of its own, the terminating resistor on the last one only",
        "the bus wires from driver to driver, logic supply, enable", ("enable", "bus"),
        "two with one address both answer and both take what was meant for one; left at pulses it is not found at all"),
}
