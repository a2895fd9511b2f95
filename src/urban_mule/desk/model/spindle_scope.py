"""A drive that turns a tool in the place of an axis: the same questions, answered from its own sheet.

Stages, fields, results, workings and the tag ask a session for what is shown; what they ask here is of one spindle, and all else
is that of the session behind.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, cast

from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.model.hardware import Hardware
from urban_mule.store.document.spindles import SpindleModel
from urban_mule.store.state.axis_state import AxisState, Turned
from urban_mule.store.state.machine import SpindleSubject

if TYPE_CHECKING:
    from urban_mule.desk.model.session import Session

SPINDLE_STAGES: tuple[StageName, ...] = ("Load", "Motor", "Drive", "Proof")


class SpindleScope:
    """The session as one spindle sees it. Made by `scope_of`."""

    def __init__(self, session: Session, index: int) -> None:
        self._session, self.spindle_index = session, index
        self._spindle: SpindleModel = (session.project.spindles or ())[index]
        self._subject = session.machine.spindles[index]
        self.hardware = Hardware(cast("Session", self))
        self.together_verdicts: tuple[Verdict, ...] = ()

    def __getattr__(self, name: str) -> Any:
        return getattr(self._session, name)

    @property
    def spindle(self) -> SpindleModel:
        """The spindle; after it is gone, as it was last."""
        there = self._session.project.spindles or ()
        if self.spindle_index < len(there):
            self._spindle = there[self.spindle_index]
        return self._spindle

    @property
    def axis(self) -> Turned:
        return self.subject.shown_as

    @property
    def subject(self) -> SpindleSubject:
        """The spindle with its numbers; after it is gone, as it was last."""
        turning = self._session.machine.spindles
        if self.spindle_index < len(turning):
            self._subject = turning[self.spindle_index]
        return self._subject

    @property
    def solution(self) -> Solution:
        return self.subject.solved.solution

    @property
    def sheet(self) -> Sheet:
        return self.solution.sheet

    @property
    def state(self) -> AxisState:
        """The spindle as the state of an axis: numbers, judgements, and what is on its hardware."""
        return self._session.machine.state_of(self.subject)

    def solution_with(self, name: str) -> Solution:
        """Its own solution for what stands on its sheet."""
        own = name in self.sheet.quantities or name in self.sheet.inputs
        return self.solution if own else self._session.solution_with(name)

    def verdicts(self, stage: StageName | None = None, _axis: Any = None) -> tuple[Verdict, ...]:
        """Its verdicts, of one stage or of all."""
        return self.state.verdicts(stage)

    def worst(self, stage: StageName | None = None, _axis: Any = None) -> Verdict | None:
        """The verdict that decides."""
        return self.state.worst(stage)

    def axis_path(self, *steps: str | int) -> tuple[str | int, ...]:
        """A path inside the spindle."""
        return ("spindles", self.spindle_index, *steps)

    def inherited(self, _part: str, _name: str) -> str:
        """Nothing: what the mains gives has a field of its own."""
        return ""

    def follower_of(self, _axis: Any) -> None:
        """None: it has one motor."""
        return

    def reason_unknown(self, name: str) -> str:
        """Why a quantity has no value, or nothing."""
        return self.state.reason_unknown(name)

    def write(self, text: str, kind: str = "note", subject: str | None = None) -> None:
        """Add a line to the log of the spindle."""
        self._session.write(text, kind, subject or self.axis.id)


def scope_of(session: Session, index: int) -> Session:
    """The session as a spindle sees it, for whoever asks a session."""
    return cast("Session", SpindleScope(session, index))
