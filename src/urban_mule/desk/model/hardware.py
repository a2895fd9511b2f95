"""What the user says is on the hardware: as it runs, and as it is stored; each with what it was computed from."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from urban_mule.desk.model.booked import book_all, new_entry
from urban_mule.store.file.project_file import Applied, Entry, now
from urban_mule.store.listing import Found
from urban_mule.store.settings import BY_HAND, FOLLOWS, NOT_STORED, STORED

if TYPE_CHECKING:
    from urban_mule.desk.model.session import Session

RESTS_ON = frozenset({
    "travel_per_turn", "microsteps", "current_peak", "holding_torque", "rated_current", "supply_voltage", "entry_is",
    "sense_resistance", "sense_resistance_entered", "trimmer_gain", "full_scale_voltage"})
OF_SWITCHES = frozenset({"current_peak", "microsteps", "hold_fraction", "interface_mode", "chopping"})


class Hardware:
    """The hardware of all axes of a session."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def values(self) -> dict[str, Applied]:
        """What is on the hardware of the shown axis."""
        return self._session.saving.applied.get(self._session.axis.name, {})

    def put(self, values: dict[str, Any], follower: bool = False, survives: bool | None = None,
            also: Sequence[str] = ()) -> None:
        """Record that the user has put these values on the hardware of the shown axis, and what they were computed from.

        follower: on that of the second motor. survives: whether they are stored, so that a reset keeps them; None: not asked.
        also: what is noted with it.
        """
        session, basis = self._session, {}
        state = session.follower_of(session.axis) if follower else session.state
        if state is None or not session.may_write():
            return
        for name in values:
            for given in self._givens_behind(name):
                value = state.solution.get(given)
                if isinstance(value, (int, float, str)):
                    basis[given] = value
        stored: dict[str, Any] = {}
        for name, value in values.items():
            if survives and name not in BY_HAND:
                stored[STORED + name] = value
            elif survives is False and name not in BY_HAND and STORED + name not in state.applied:
                stored[STORED + name] = NOT_STORED
        prefix = FOLLOWS if follower else ""
        time, axis = now(), session.axis.name
        put = [Applied(time, axis, prefix + name, value, basis) for name, value in {**values, **stored}.items()]
        asked = {name for name in values if name not in BY_HAND}
        kept = "" if survives is None or not asked else ", stored" if survives else ", running only: a reset loses it"
        names = ", ".join(name.replace("_", " ") for name in values)
        said = f"Set on the hardware{' of the follower' if follower else ''}: {names}{kept}."
        notes = (new_entry(session, one) for one in also)
        book_all(session, said, [new_entry(session, said, "set"), *notes], put)

    def _givens_behind(self, name: str) -> set[str]:
        """Givens and plain quantities that a value rests on."""
        behind = self._session.sheet.dependents
        if name == "switches":
            return {*OF_SWITCHES} & behind.keys()
        return {one for one in RESTS_ON if one in behind and (one == name or name in behind[one])}

    def read(self, found: Iterable[Found], listing: str, stored: bool, running: bool) -> int:
        """Record what a controller's own listing says of all axes; how many values that were.

        listing: what it is called. stored, running: whether it lists what is stored, what runs, or both.
        """
        by_axis: dict[str, dict[str, Any]] = {}
        for one in found:
            prefixes = [*([""] if running else []), *([STORED] if stored and one.setting not in BY_HAND else [])]
            for prefix in prefixes:
                by_axis.setdefault(one.axis, {})[(FOLLOWS if one.follower else "") + prefix + one.setting] = one.value
        if not self._session.may_write():
            return 0
        count, time, entries, put = 0, now(), list[Entry](), list[Applied]()
        for axis, values in by_axis.items():
            put += [Applied(time, axis, name, value, {"listing": listing}) for name, value in values.items()]
            names = sorted({name.removeprefix(FOLLOWS).removeprefix(STORED).replace("_", " ") for name in values})
            entries.append(new_entry(self._session, f"Read from {listing}: {', '.join(names)}.", "set", axis))
            count += len(names)
        book_all(self._session, f"Read from {listing}", entries, put)
        return count
