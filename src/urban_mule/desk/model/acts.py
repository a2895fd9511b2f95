"""What is done to the list of axes and to those beside them as a whole: one more, a twin, one less."""

from __future__ import annotations

from itertools import chain, count

from urban_mule.desk.model.session import Session
from urban_mule.desk.model.subject_scope import SubjectScope
from urban_mule.store.document.spindles import SpindleModel


def add_spindle(session: Session) -> int:
    """One more drive that turns a tool; its place among those beside the axes."""
    there = session.project.spindles or ()
    name = next(n for n in chain(("S",), (f"S{k}" for k in count(2))) if all(one.name != n for one in there))
    made = SpindleModel.model_validate({"name": name, "motor": {"kind": "brushless"}})
    session.edit(("spindles",), (*there, made), f"spindle {name} added")
    return session.project.others.index(made)


def duplicate_axis(session: Session) -> None:
    """A twin of the shown axis without its readings, which is shown then."""
    axes = session.project.axes
    names = {axis.name for axis in axes}
    name = next(n for n in (f"{session.axis.name}{k}" for k in count(2)) if n not in names)
    twin = session.axis.model_copy(update={"name": name, "readings": ()})
    session.edit(("axes",), (*axes, twin), f"axis {session.axis.name} duplicated")
    session.show_axis(len(axes))


def remove_shown(session: Session, other: SubjectScope | None) -> str:
    """Take out what is shown: an axis, or another subject. Why it stays, else nothing."""
    if other is not None:
        left = tuple(one for one in getattr(session.project, other.key) or () if one.id != other.id)
        session.edit((other.key,), left or None, f"{other.axis.name} removed")
        return ""
    axes = session.project.axes
    if len(axes) == 1:
        return "This is the only axis; a project keeps at least one."
    kept = tuple(axis for axis in axes if axis is not session.axis)
    session.edit(("axes",), kept, f"axis {session.axis.name} removed")
    return ""
