"""What is written beside the document and can be undone: lines of the log, values on the hardware, a round that is given up."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QUndoCommand

from urban_mule.store.file.project_file import Applied, Entry, now

if TYPE_CHECKING:
    from urban_mule.bench.sessions.rounds import Round
    from urban_mule.desk.model.scope import HasBook, Scope


class Booked(QUndoCommand):
    """Lines and values that come into the book, lines that go out of it, a round that ends; undone all is as it was."""

    def __init__(self, document: HasBook, words: str, entries: Sequence[Entry] = (), applied: Sequence[Applied] = (),
                 gone: Sequence[Entry] = (), ends: Callable[[bool], object] | None = None) -> None:
        super().__init__(words)
        self._document, self._entries, self._applied, self._gone, self._ends = document, entries, applied, gone, ends
        self._before: tuple[Applied | None, ...] = ()

    def redo(self) -> None:
        there = self._document.saving.applied
        self._before = tuple(there.get(one.where, {}).get(one.name) for one in self._applied)
        self._document.saving.take_back(self._gone)
        self._document.saving.put(self._entries, self._applied)
        self._tell(ended=True)

    def undo(self) -> None:
        self._document.saving.take_back(self._entries, tuple(zip(self._applied, self._before, strict=True)))
        self._document.saving.put(self._gone)
        self._tell(ended=False)

    def _tell(self, ended: bool) -> None:
        if self._ends is not None:
            self._ends(ended)
        self._document.book_changed.emit()


def new_entry(document: HasBook, text: str, kind: str = "note", subject: str | None = None, **columns: Any) -> Entry:
    """A line of the log of a subject by its id, by default the shown one; half characters, which cannot be written, are replaced.

    columns: cost, photograph, task, revision.
    """
    return Entry(now(), subject or document.axis.id, kind, text.encode(errors="replace").decode(), **columns)


def book(document: HasBook, text: str, kind: str = "note", subject: str | None = None, **columns: Any) -> None:
    """Write a line that somebody chose to write, so that it can be undone. columns: cost, photograph, task, revision."""
    book_all(document, text, [new_entry(document, text, kind, subject, **columns)])


def book_all(document: HasBook, words: str, entries: Sequence[Entry], applied: Iterable[Applied] = ()) -> None:
    """Write lines, and what was put on the hardware with them, as one step that can be undone."""
    if document.may_write():
        document.undo_stack.push(Booked(document, words[:60], entries, tuple(applied)))


def strike(document: HasBook, entry: Entry, reason: str) -> None:
    """Take a line out of the book; a note says which, and why."""
    was = replace(entry, photograph="").said
    said = new_entry(document, f"Struck out, {entry.time:%d %b %Y}, {entry.kind}: {was} Why: {reason}", "note", entry.subject,
                     photograph=entry.photograph)
    if document.may_write():
        document.undo_stack.push(Booked(document, "a line struck out", [said], gone=[entry]))


def give_up(document: Scope, round_: Round) -> None:
    """End a round without a reading; undone it goes on where it stood."""
    if document.may_write():
        document.undo_stack.push(Booked(document, f"{round_.kind} on {document.saving.names.get(round_.subject, '')} given up",
                                           ends=lambda ended: document.save_round(round_, ended)))


@contextmanager
def one_step(document: HasBook, words: str) -> Iterator[None]:
    """What is changed and booked within is undone as one; where nothing came of it there is nothing to undo."""
    stack = document.undo_stack
    stack.beginMacro(words)
    try:
        yield
    finally:
        stack.endMacro()
        made = stack.command(stack.index() - 1)
        if made is not None and made.childCount() == 0:
            made.setObsolete(True)
            stack.undo()  # which throws away what is obsolete
