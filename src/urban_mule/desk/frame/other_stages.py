"""The stages of a subject that is no axis and is shown in its place: made when first looked at, gone when another is shown."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from urban_mule.core.sheet.stages import StageName
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.subject_scope import SubjectScope
from urban_mule.desk.stages.registry import make_stage
from urban_mule.desk.stages.view import StageView


class OtherStages(QObject):
    """scope: what the shown subject is asked by, or None. gone: the one that was shown is no more.

    attend: what connects a stage that was made to the window.
    """

    gone = pyqtSignal()

    def __init__(self, session: Session, attend: Callable[[StageView], object]) -> None:
        super().__init__()
        self._session, self._attend = session, attend
        self.scope: SubjectScope | None = None
        self._views: dict[StageName, StageView] = {}
        session.changed.connect(self._follow)

    @property
    def index(self) -> int | None:
        """Which of the subjects that are no axes is shown."""
        who = None if self.scope is None else self.scope.id
        return next((place for place, one in enumerate(self._session.project.others) if one.id == who), None)

    def _follow(self, _names: object) -> None:
        if self.scope is not None and self._session.project.path_of(self.scope.id) is None:
            self.gone.emit()

    def show(self, index: int) -> SubjectScope:
        """Show a subject; the scope that its stages, the trail and the tag ask."""
        who = self._session.project.others[index].id
        if self.scope is None or self.scope.id != who:
            self.leave()
            self.scope = SubjectScope(self._session, who)
        return self.scope

    def view(self, name: StageName, stack: QStackedWidget) -> StageView:
        """The view of a stage, put into the window's stack."""
        assert self.scope is not None
        if name not in self._views:
            view = self._views[name] = make_stage(self.scope, name)
            self._attend(view)
            stack.addWidget(view)
        return self._views[name]

    def leave(self) -> None:
        """Let go of the stages."""
        self.scope = None
        for view in self._views.values():
            view.stop()
            view.hide()
            view.setParent(None)
            view.deleteLater()
        self._views.clear()
