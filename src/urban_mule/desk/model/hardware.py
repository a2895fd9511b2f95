"""What the user says is on the hardware: as it runs, and as it is stored; each with what it was computed from."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, Any

from urban_mule.desk.model.booked import book_all, new_entry
from urban_mule.store.file.project_file import Applied, Entry, Where, now
from urban_mule.store.listing import Listed
from urban_mule.store.settings import BY_HAND, NOT_STORED

if TYPE_CHECKING:
    from urban_mule.desk.model.scope import Scope

RESTS_ON = frozenset({
    "travel_per_turn", "microsteps", "current_peak", "holding_torque", "rated_current", "supply_voltage", "entry_is",
    "sense_resistance", "sense_resistance_entered", "trimmer_gain", "full_scale_voltage", "loop_inertia", "first_axial_mode",
    "axial_damping", "current_loop_bandwidth", "velocity_sample_time"})
OF_SWITCHES = frozenset({"current_peak", "microsteps", "hold_fraction", "interface_mode", "chopping"})


class Hardware:
    """The hardware of all axes of a session."""

    def __init__(self, session: Scope) -> None:
        self._session = session

    def values(self) -> dict[str, Applied]:
        """What is on the hardware of the shown axis."""
        return dict(self._session.state.applied)

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
                stored[name] = value
            elif survives is False and name not in BY_HAND and name not in state.stored:
                stored[name] = NOT_STORED
        time, motor = now(), 2 if follower else 1
        put = [Applied(time, Where(state.id, motor, kept), name, value, basis)
               for kept, said in ((False, values), (True, stored)) for name, value in said.items()]
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

    def read(self, found: Iterable[Listed], listing: str, stored: bool, running: bool) -> int:
        """Record what a controller's own listing says of all axes; how many values that were.

        listing: what it is called. stored, running: whether it lists what is stored, what runs, or both.
        """
        by_axis: dict[str, dict[tuple[Where, str], Any]] = {}
        for one in found:
            who = self._session.project.axis(one.axis).id
            for kept in (*([False] if running else []), *([True] if stored and one.setting not in BY_HAND else [])):
                by_axis.setdefault(who, {})[Where(who, 2 if one.follower else 1, kept), one.setting] = one.value
        if not self._session.may_write():
            return 0
        count, time, entries, put = 0, now(), list[Entry](), list[Applied]()
        for who, values in by_axis.items():
            put += [Applied(time, where, name, value, {"listing": listing}) for (where, name), value in values.items()]
            names = sorted({name.replace("_", " ") for _, name in values})
            entries.append(new_entry(self._session, f"Read from {listing}: {', '.join(names)}.", "set", who))
            count += len(names)
        book_all(self._session, f"Read from {listing}", entries, put)
        return count
