"""What takes a file that is dropped on it."""

from __future__ import annotations

from PyQt6.QtGui import QDragEnterEvent, QDropEvent


def may_drop(event: QDragEnterEvent | None) -> None:
    """Let a file be dropped, if that is what is dragged."""
    data = None if event is None else event.mimeData()
    if event is not None and data is not None and data.hasUrls():
        event.acceptProposedAction()


def dropped_file(event: QDropEvent | None) -> str:
    """The name of the file that was dropped, or nothing."""
    data = None if event is None else event.mimeData()
    if event is None or data is None or not data.urls():
        return ""
    event.acceptProposedAction()
    return data.urls()[0].toLocalFile()
