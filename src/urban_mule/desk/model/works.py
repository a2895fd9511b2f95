"""The one way to run work off the window's thread: by key, newer cancels older, awaited at close, no exception lost."""

from __future__ import annotations

import gc
from collections.abc import Callable, Hashable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from urban_mule.bench.devices import DeviceError
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.progress import PACE, Cancelled, Progress
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.desk.model.first import answered, give_way
from urban_mule.store.fault_log import note_fault
from urban_mule.store.text_files import BadFile

Work = Callable[[Progress], Any]
FORESEEN = (BadFile, BadValue, NotKnown, DeviceError, Cancelled)  # each a sentence for the user; Cancelled an empty one
THREADS = 3
TIDIED = 1000  # ms between looks at whether garbage is to be collected


class Job:
    """One piece of work: what it does, whose it is, and whether it was told to stop."""

    def __init__(self, key: Hashable, owner: QObject, done: Callable[[Any], object], failed: Callable[[str], object],
                 moved: Callable[[int, int], object] | None) -> None:
        self.key, self.owner, self.done, self.failed, self.moved = key, owner, done, failed, moved
        self.cancelled = self.ended = False

    def cancel(self) -> None:
        """Ask it to stop at its next step."""
        self.cancelled = True


class Works(QObject):
    """Runs work in a few threads and brings its result, or one sentence, back to the window's thread.

    Signals: unforeseen(sentence): a work that gave no `failed` raised; idle: nothing is being worked at any more.
    """

    unforeseen = pyqtSignal(str)
    idle = pyqtSignal()
    _ended = pyqtSignal(object, object, object)
    _moved = pyqtSignal(object, int, int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.jobs: list[Job] = []
        self._closed = False
        gc.disable()  # a thread that came to collect would take apart what is drawn
        tidied = QTimer(self, interval=TIDIED)
        tidied.timeout.connect(tidy)
        tidied.start()
        self._threads = ThreadPoolExecutor(THREADS, "work", _lets_the_window_go_first)
        self._ended.connect(self._deliver)
        self._moved.connect(self._report)

    def run(self, key: Hashable, owner: QObject, work: Work, done: Callable[[Any], object],
            failed: Callable[[str], object] | None = None, moved: Callable[[int, int], object] | None = None) -> Job:
        """Begin `work(progress)`; its result goes to `done`, else a sentence to `failed`, an empty one when it was stopped.

        key: a job of the same key that still runs is cancelled and heard no more. owner: when it is gone nobody is told.
        moved: told (done, of how many).
        """
        for job in self.jobs:
            if job.key == key:
                job.cancel()
                job.done = job.failed = _nobody
        job = Job(key, owner, done, failed or self._tell, moved)
        if self._closed:  # a timer that was running when the window closed
            job.cancel()
            return job
        self.jobs.append(job)
        self._threads.submit(self._work, job, work)
        return job

    def _tell(self, why: str) -> None:
        if why:
            self.unforeseen.emit(why)

    def _work(self, job: Job, work: Work) -> None:
        """In a thread: whatever happens, the window hears of it once."""
        found: Any = None
        why: str | None = None

        def progress(done: int, total: int) -> bool:
            if job.moved is not None:
                self._moved.emit(job, done, total)
            return not job.cancelled

        try:
            if job.cancelled:
                raise Cancelled
            found = work(progress)
        except FORESEEN as fault:
            why = str(fault)
        except BaseException as fault:
            why = note_fault(fault, f"working on {_said(job.key)}")
        self._ended.emit(job, found, why)

    def _report(self, job: Job, done: int, total: int) -> None:
        if job.moved is not None and job in self.jobs and not sip.isdeleted(job.owner):
            job.moved(done, total)

    def _deliver(self, job: Job, found: Any, why: str | None) -> None:
        if job not in self.jobs:
            return
        self.jobs.remove(job)
        try:
            if not sip.isdeleted(job.owner):
                if why is None:
                    job.done(found)
                else:
                    job.failed(why)
        finally:
            if not self.jobs:
                self.idle.emit()

    @property
    def busy(self) -> bool:
        """Whether something is still being worked at."""
        return bool(self.jobs)

    def close(self) -> None:
        """Stop all that runs and wait for it; nobody is told any more."""
        self._closed = True
        for job in self.jobs:
            job.cancel()
        self.jobs.clear()
        answered()
        self._threads.shutdown(wait=True, cancel_futures=True)


def _lets_the_window_go_first() -> None:
    PACE.between = give_way


def tidy() -> None:
    """Collect what garbage is due, in the thread that calls: the window's."""
    due = [generation for generation, (count, most) in enumerate(zip(gc.get_count(), gc.get_threshold(), strict=True))
           if count > most]
    if due:
        gc.collect(due[-1])


def _nobody(_found: Any) -> None:
    return None


def _said(key: Hashable) -> str:
    """What a key names, as a sentence can hold it."""
    return str(key[0] if isinstance(key, tuple) else key)
