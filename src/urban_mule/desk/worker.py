"""Long work off the window's thread, with progress and cancel."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QThread, pyqtSignal

Work = Callable[[Callable[[int, int], bool]], Any]


def in_background(
    parent: QObject, work: Callable[[], Any], done: Callable[[Any], object], failed: Callable[[str], object],
    expected: tuple[type[Exception], ...],
) -> Worker:
    """Run `work` off the window's thread; `done` gets its result, `failed` the sentence of an expected exception."""
    worker = Worker(lambda _progress: work(), expected, parent)
    worker.finished_with.connect(done)
    worker.failed.connect(failed)
    worker.start()
    return worker


class Worker(QThread):
    """Runs `work(progress)` in a thread; `progress(done, total)` answers whether to go on.

    Signals: moved(done, total); finished_with(result); failed(sentence).
    """

    moved = pyqtSignal(int, int)
    finished_with = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(self, work: Work, expected: tuple[type[Exception], ...] = (), parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._work = work
        self._expected = expected
        self._stopped = False

    def cancel(self) -> None:
        """Ask the work to stop at its next step."""
        self._stopped = True

    def _progress(self, done: int, total: int) -> bool:
        self.moved.emit(done, total)
        return not self._stopped

    def run(self) -> None:
        try:
            result = self._work(self._progress)
        except self._expected as why:
            self.failed.emit(str(why))
        else:
            self.finished_with.emit(result)
