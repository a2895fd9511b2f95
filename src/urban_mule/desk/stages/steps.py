"""How a stage is built: in parts, one each turn of the event loop, or ahead of being shown."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QWidget

from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.first import answering
from urban_mule.desk.stages.readings import TakesReadings


class BuiltInSteps(TakesReadings):
    """A stage as far as it is built in steps; what is laid out when the size is known comes last."""

    ahead: list[Callable[[], object]]
    _steps: list[Callable[[], object]]
    _next: QTimer
    _telling: QTimer
    _filling: QTimer

    def _complete(self) -> None:
        """Have all that the leaf on top wants."""
        raise NotImplementedError

    @property
    def picture(self) -> Picture:
        """The picture on top."""
        return self.leaves.picture

    def step(self) -> None:
        """Build one more part of the stage; each takes less than a frame or two, so that a first visit blocks nothing."""
        if self.isVisible():
            answering()
        self._steps.pop(0)()
        if self.isVisible():  # else Qt shows what is new only a little later
            for child in self.children():
                if isinstance(child, QWidget) and not child.testAttribute(Qt.WidgetAttribute.WA_WState_ExplicitShowHide):
                    child.show()

    def step_ahead(self) -> bool:
        """Build one more part, the further leaves too; whether something is left to build."""
        if self._steps:
            self.step()
        elif self.ahead:
            self.ahead.pop(0)()
            self._polish()
        return bool(self._steps or self.ahead)

    def finish(self) -> None:
        """Build what is missing at once."""
        while self._steps:
            self.step()
        self._complete()

    def stop(self) -> None:
        """Build no more; the window closes."""
        self._next.stop()
        self._telling.stop()
        self._filling.stop()

    def _go_on(self) -> None:
        if self._steps:
            self.step()
            self._next.start()

    def _polish(self) -> None:
        """Let the style look at every part now instead of at the first paint."""
        for child in self.findChildren(QWidget):
            child.ensurePolished()

    def _take_size(self) -> None:
        """Have the size that the stage will be shown in, so that what is laid out and painted ahead is of use then."""
        parent = self.parentWidget()
        if parent is not None and not self.isVisible():
            self.resize(parent.size())
            self.box.activate()

    def _paint_first(self) -> None:
        if not self.isVisible():
            self.picture.grab()

    def _draw_first(self) -> None:
        self.leaves.picture.bring_up_to_date()
