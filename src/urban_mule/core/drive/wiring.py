"""From a driver's signals to the controller's terminals: what is used twice, what is left open, which addresses clash."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from urban_mule.core.drive.interface import SIGNALS, WANTED
from urban_mule.core.sheet.once import once
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.verdict import Verdict, check, listed_names

SHARED_BY_DESIGN = ("enable", "bus")  # one terminal may serve many drivers
UNUSED = ("none", "-", "–", "no")  # what people type for a signal that is not used
PAIRED = {"lower_end_switch": "upper_end_switch", "upper_end_switch": "lower_end_switch"}  # who wires one wires both, or says none


@record(frozen=True, kw_only=True, eq=False, repr=False)
class DriverWiring:
    """Where the signals of one driver go.

    motor: whose it is, as people read it (`Y`, `Y follower`); axis: of which axis; terminals: (signal, terminal) as typed;
    interface_mode, bus_address: as given; brake, fan: whether it has one to wire.
    """

    motor: str
    axis: str
    terminals: tuple[tuple[str, str], ...] = ()
    interface_mode: str | None = None
    bus_address: float | None = None
    brake: bool = False
    fan: bool = False

    @once
    def wired(self) -> dict[str, str]:
        """Terminals of the signals that are used."""
        return {signal: name.strip() for signal, name in self.terminals if name.strip() and name.strip().lower() not in UNUSED}

    @property
    def needed(self) -> tuple[str, ...]:
        """The signals that this driver cannot do without."""
        said = {signal for signal, name in self.terminals if name.strip()}
        mode = WANTED[self.interface_mode].signals if self.interface_mode else ("step", "direction")
        more = [signal for signal, has in (("brake", self.brake), ("fan", self.fan)) if has]
        pairs = [other for one, other in PAIRED.items() if one in said]
        return tuple(signal for signal in SIGNALS if signal in (*mode, *more, *pairs))

    @property
    def open(self) -> tuple[str, ...]:
        """Signals that it needs and of which nothing is typed."""
        said = {signal for signal, name in self.terminals if name.strip()}
        return tuple(signal for signal in self.needed if signal not in said)


def signal_words(signal: str) -> str:
    return signal.replace("_", " ")


def used_twice(wirings: tuple[DriverWiring, ...]) -> Iterator[tuple[DriverWiring, str, DriverWiring, str]]:
    """Every two uses of one terminal that is not meant for both: whose it is, for which signal, and the other's."""
    used: dict[str, list[tuple[DriverWiring, str]]] = {}
    for one in wirings:
        for signal, terminal in one.wired.items():
            used.setdefault(terminal.casefold(), []).append((one, signal))
    for users in used.values():
        for (one, signal), (other, second) in combinations(users, 2):
            shared = signal == second and (signal in SHARED_BY_DESIGN or (one.axis == other.axis and one is not other))
            if not shared:
                yield one, signal, other, second


def clashes(wirings: tuple[DriverWiring, ...]) -> list[str]:
    """Every terminal that is used twice without being meant for it: a part of a sentence each."""
    return [f"{one.wired[signal]} is used for {signal_words(signal)} of {one.motor} and for {signal_words(second)} of"
            f" {other.motor}" for one, signal, other, second in used_twice(wirings)]


def same_address(wirings: tuple[DriverWiring, ...]) -> list[str]:
    """Drivers on one bus that answer to one address: a part of a sentence each."""
    on_bus = [one for one in wirings if one.interface_mode in ("bus", "single wire") and one.bus_address is not None]
    return [f"{one.motor} and {other.motor} both have address {one.bus_address:g}"
            for one, other in combinations(on_bus, 2) if one.bus_address == other.bus_address and _one_bus(one, other)]


def _one_bus(one: DriverWiring, other: DriverWiring) -> bool:
    """Whether two drivers hang on one wire: as wired, else, where it is not said, all of the mode bus."""
    here, there = one.wired.get("bus"), other.wired.get("bus")
    if here is not None and there is not None:
        return here.casefold() == there.casefold()
    return one.interface_mode == other.interface_mode == "bus"


@check("wiring", stage="Drive")
def wiring_is_whole(wirings: tuple[DriverWiring, ...]) -> Verdict | None:
    """Terminals used twice, and signals left open, of the drivers whose wiring is described."""
    described = [one for one in wirings if any(name.strip() for _, name in one.terminals)]
    if not described:
        return None
    twice = clashes(tuple(described))
    if twice:
        more = f", and {len(twice) - 1} more" if len(twice) > 1 else ""
        return Verdict("short", f"Terminal {twice[0]}{more}.", "Give each signal a terminal of its own.", headroom=0.0)
    loose = [f"{listed_names([signal_words(s) for s in one.open])} of {one.motor}" for one in described if one.open]
    if loose:
        return Verdict("tight", f"Left open: {'; '.join(loose[:3])}{f', and {len(loose) - 3} more' if len(loose) > 3 else ''}.",
                       "Type the terminal, or none where it is not used.", headroom=0.3)
    count = len(described)
    return Verdict("good", f"The wiring of {count} {'driver' if count == 1 else 'drivers'} is complete; no terminal is used twice.",
                   "Nothing to do.", headroom=0.9)


@check("bus addresses", stage="Drive")
def addresses_differ(wirings: tuple[DriverWiring, ...]) -> Verdict | None:
    """Whether drivers on one bus can be told apart."""
    on_bus = [one for one in wirings if one.interface_mode == "bus"]
    same = same_address(wirings)
    if same:
        return Verdict("short", f"{same[0]}: both take what is meant for one.", "Give each an address of its own.", headroom=0.0)
    silent = [one.motor for one in on_bus if one.bus_address is None]
    if silent:
        return Verdict("unknown", f"The bus address of {listed_names(silent)} is not given.",
                       "Type it where the driver is described.")
    if not on_bus:
        return None
    return Verdict("good", f"{len(on_bus)} {'driver answers' if len(on_bus) == 1 else 'drivers answer'} on the bus, each to its own"
                   " address.", "Nothing to do.", headroom=0.9)
