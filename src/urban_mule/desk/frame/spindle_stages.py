"""The stages of the drive that turns a tool which is shown: made when first looked at, gone when another is shown."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from urban_mule.core.sheet.stages import StageName
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.spindle_scope import SPINDLE_STAGES, scope_of
from urban_mule.desk.stages.registry import make_spindle_stage
from urban_mule.desk.stages.spindle.spec import SPECS
from urban_mule.desk.stages.view import StageView


def stage_of(name: str) -> StageName | None:
    """The stage of a spindle at which a given is entered, or None."""
    return next((stage for stage in SPINDLE_STAGES if any(given == name for _, given in SPECS[stage].all_fields)), None)


class SpindleStages(QObject):
    """scope: the session as the shown spindle sees it, or None. gone: the spindle that was shown is no more.

    attend: what connects a stage that was made to the window.
    """

    gone = pyqtSignal()

    def __init__(self, session: Session, attend: Callable[[StageView], object]) -> None:
        super().__init__()
        self._session, self._attend, self._count = session, attend, 0
        self.scope: Session | None = None
        self.index: int | None = None
        self._views: dict[StageName, StageView] = {}
        session.changed.connect(self._follow)

    def _follow(self, _names: object) -> None:
        there = self._session.project.spindles or ()
        if self.index is None:
            return
        if self.index >= len(there) or len(there) != self._count:
            self.gone.emit()

    def show(self, index: int) -> Session:
        """Show a spindle; the scope that its stages, the trail and the tag ask."""
        if index != self.index:
            self.leave()
            self.index, self._count = index, len(self._session.project.spindles or ())
            self.scope = scope_of(self._session, index)
        assert self.scope is not None
        return self.scope

    def view(self, name: StageName, stack: QStackedWidget) -> StageView:
        """The view of a stage, put into the window's stack."""
        assert self.scope is not None
        if name not in self._views:
            view = self._views[name] = make_spindle_stage(self.scope, name)
            self._attend(view)
            stack.addWidget(view)
        return self._views[name]

    def leave(self) -> None:
        """Let go of the stages."""
        self.scope = self.index = None
        for view in self._views.values():
            view.stop()
            view.hide()
            view.setParent(None)
            view.deleteLater()
        self._views.clear()
