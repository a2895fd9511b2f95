"""The line that says which file is being read, how far it is, and stops it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from urban_mule.core.sheet.progress import Cancelled, Progress
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.works import Job, Work, Works

PATIENCE = 300  # ms that reading may take before anything is said of it


class WaitingLine(QWidget):
    """Shown while a file is read for longer than a moment."""

    def __init__(self, works: Works, parent: QWidget | None = None) -> None:
        super().__init__(parent, objectName="waiting")
        self._works = works
        self._jobs: dict[Job, str] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 2, 16, 4)
        self.said = Label(objectName="label")
        self.bar = QProgressBar(textVisible=False, accessibleName="How far the file is read")
        self.bar.setFixedHeight(8)
        self.cancel = QPushButton("Cancel")
        self.cancel.clicked.connect(self.stop)
        for widget, share in ((self.said, 0), (self.bar, 1), (self.cancel, 0)):
            row.addWidget(widget, share)
        self._later = QTimer(self, singleShot=True, interval=PATIENCE)
        self._later.timeout.connect(self._show)
        self.hide()

    def run(self, path: Path, owner: Any, work: Work, done: Any, failed: Any = None) -> None:
        """Read a file in the background; what comes of one that was stopped is dropped."""
        def whole(progress: Progress) -> Any:
            found = work(progress)
            if not progress(1, 1):
                raise Cancelled
            return found

        def ended(found: Any) -> None:
            self._end(job)
            done(found)

        def stopped(why: str) -> None:
            self._end(job)
            if failed is not None:
                failed(why)
            elif why:
                self._works.unforeseen.emit(why)

        job = self._works.run(("reading", str(path)), owner, whole, ended, stopped, self._moved)
        self._jobs[job] = path.name
        if not self._later.isActive() and self.isHidden():
            self._later.start()

    def stop(self) -> None:
        """Stop everything that is being read."""
        for job in self._jobs:
            job.cancel()
        self.said.setText("Stopping…")

    def _show(self) -> None:
        if self._jobs:
            names = list(self._jobs.values())
            more = f" and {len(names) - 1} more" if len(names) > 1 else ""
            self.said.setText(f"Reading {names[0][:60]}{more}…")
            self.show()

    def _moved(self, done: int, total: int) -> None:
        self.bar.setRange(0, total if total > 1 else 0)
        self.bar.setValue(done)

    def _end(self, job: Job) -> None:
        self._jobs.pop(job, None)
        if not self._jobs:
            self.hide()
