"""A dialog that searches for parts of one axis in the background: a key that begins and stops it, how far it is, what was wrong."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWidgets import QProgressBar, QPushButton, QWidget

from urban_mule.core.sheet.progress import Progress
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Whole
from urban_mule.desk.model.works import Job


class Searching(Dialog):
    """key: who the axis is that it is about; with that axis it goes. begins: what stands on the key that begins it."""

    begins = "Search"

    def __init__(self, session: Whole, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.key = session, session.state.id
        self.setWindowTitle(title)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.headline = Label(title, objectName="headline")
        self._job: Job | None = None
        self.fault = Label(objectName="wrong", wordWrap=True)
        self.bar = QProgressBar(textVisible=False)
        self.bar.setAccessibleName("Progress of the search")
        self.bar.hide()
        self.go = QPushButton(self.begins, objectName="strong", default=True)
        self.go.clicked.connect(self.begin)
        self.taking = QPushButton("Take it")
        self.taking.setEnabled(False)
        self.taking.clicked.connect(self.take)
        session.axis_changed.connect(self._other_axis)

    @property
    def index(self) -> int:
        """Where the axis of this search stands now."""
        return self.session.place_of(self.key)

    def begin(self) -> None:
        """Search, or stop the search that runs."""
        if self._job is not None:
            self._job.cancel()
            return
        self.fault.setText("")
        self.search()

    def search(self) -> None:
        """Begin what is asked, by `work_at`, or say what is wrong with it."""
        raise NotImplementedError

    def take(self) -> None:
        """Take what is chosen; one step that can be undone."""
        raise NotImplementedError

    def work_at(self, what: str, work: Callable[[Progress], Any], came: Callable[[Any], None]) -> None:
        """Search in the background; came: takes what was found."""
        self.go.setText("Stop")
        self.bar.setRange(0, 0)
        self.bar.show()

        def ended(found: Any) -> None:
            self._ended()
            came(found)

        self._job = self.session.works.run((what, id(self)), self, work, ended, self.failed, self._moved)

    def _moved(self, done: int, total: int) -> None:
        self.bar.setRange(0, total)
        self.bar.setValue(done)

    def _ended(self) -> None:
        self._job = None
        self.go.setText(self.begins)
        self.bar.hide()

    def failed(self, why: str) -> None:
        """Say why nothing was found."""
        self._ended()
        self.fault.setText(f"{why[:1].upper()}{why[1:].rstrip('.')}." if why else "Stopped; nothing was found yet.")

    def _other_axis(self) -> None:
        """The axis this search is about may have gone."""
        if self.session.axis_of(self.key) is None:
            self.close()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if self._job is not None:
            self._job.cancel()
        super().closeEvent(event)
