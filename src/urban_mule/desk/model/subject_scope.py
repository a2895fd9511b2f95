"""Another subject in the place of the axis: the same questions, answered from its own sheet.

Stages, fields, results, workings and the tag ask a `Scope`; for an axis that is the session, for any other subject this.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, cast

from urban_mule.bench.sessions.rounds import Round
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.model.hardware import Hardware
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.file.project_file import Entry
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.state.machine import OtherSubject

if TYPE_CHECKING:
    from urban_mule.desk.model.session import Session


class SubjectScope:
    """One subject by its identity; after it is gone, as it was last."""

    def __init__(self, session: Session, who: str) -> None:
        self._session, self.id = session, who
        self._subject = cast("OtherSubject", session.machine.by_id(who))
        self._place = session.project.path_of(who) or (self._subject.kind.key, 0)
        self.changed, self.axis_changed, self.book_changed = session.changed, session.axis_changed, session.book_changed
        self.sure_changed, self.taught = session.sure_changed, session.taught
        self.told, self.noted, self.saved, self.failed = session.told, session.noted, session.saved, session.failed
        self.works, self.saving, self.undo_stack = session.works, session.saving, session.undo_stack
        self.value, self.edit, self.edit_all, self.may_write = session.value, session.edit, session.edit_all, session.may_write
        self.hardware = Hardware(self)

    @property
    def subject(self) -> OtherSubject:
        """The subject with its numbers."""
        there = self._session.machine.by_id(self.id)
        if isinstance(there, OtherSubject):
            self._subject = there
        return self._subject

    @property
    def project(self) -> Project:
        return self._session.project

    @property
    def system(self) -> str:
        """metric or inch."""
        return self._session.system

    @property
    def stages(self) -> tuple[StageName, ...]:
        """The stages that it is shown on."""
        return self.subject.kind.stages

    @property
    def key(self) -> str:
        """Under which such subjects stand in the document."""
        return self.subject.kind.key

    @property
    def axis(self) -> Axis:
        """What stands in the place of an axis."""
        return cast("Axis", self.subject.shown_as)

    @property
    def solution(self) -> Solution:
        return self.subject.solved.solution

    @property
    def sheet(self) -> Sheet:
        return self.solution.sheet

    @property
    def state(self) -> AxisState:
        """The subject as the state of an axis: numbers, judgements, and what is on its hardware."""
        return self._session.machine.state_of(self.subject)

    @property
    def together(self) -> Solution:
        """The solution of what belongs to all axes together."""
        return self._session.together

    @property
    def together_verdicts(self) -> tuple[Verdict, ...]:
        """Nothing is said of all axes where it is shown."""
        return ()

    @property
    def sure(self) -> None:
        """Nothing is worked out of how sure its numbers are."""
        return

    @property
    def teaching(self) -> None:
        """Nothing is learnt of it."""
        return

    def solution_with(self, name: str) -> Solution:
        """Its own solution for what stands on its sheet."""
        own = name in self.sheet.quantities or name in self.sheet.inputs
        return self.solution if own else self._session.solution_with(name)

    def verdicts(self, stage: StageName | None = None) -> tuple[Verdict, ...]:
        """Its verdicts, of one stage or of all."""
        return self.state.verdicts(stage)

    @property
    def is_known(self) -> bool:
        """Whether its numbers were ever computed; `changed` is told when they are."""
        return self.subject.last is not None

    def worst(self, stage: StageName | None = None) -> Verdict | None:
        """The verdict that decides."""
        return self.state.worst(stage)

    def axis_path(self, *steps: str | int) -> tuple[str | int, ...]:
        """A path inside the subject."""
        self._place = self.project.path_of(self.id) or self._place
        return (*self._place, *steps)

    def inherited(self, _part: str, _name: str) -> str:
        """Nothing: what the mains gives has a field of its own."""
        return ""

    def follower_of(self, _axis: Any) -> None:
        """None: it has one motor."""
        return

    def reason_unknown(self, name: str) -> str:
        """Why a quantity has no value, or nothing."""
        return self.state.reason_unknown(name)

    def entries(self) -> list[Entry]:
        """The log, oldest first."""
        return self._session.entries()

    def write(self, text: str, kind: str = "note", subject: str | None = None) -> None:
        """Add a line to the log of the subject."""
        self._session.write(text, kind, subject or self.id)

    @property
    def rounds(self) -> list[Round]:
        """The rounds under way, whoever's."""
        return self._session.rounds

    def has_entries(self) -> bool:
        """Whether the log says anything of it."""
        return self._session.has_entries(self.id)

    def save_round(self, round_: Round, ended: bool = False) -> None:
        """Keep a round as far as it has come."""
        self._session.save_round(round_, ended)

    def add_reading(self, reading: Any, begun: AxisState | None = None) -> bool:
        """Put what was measured where it belongs, undoable, and write it down."""
        return self._session.add_reading(reading, begun or self.state)
