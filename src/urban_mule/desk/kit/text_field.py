"""A line of words at a path of the document, with its name above it."""

from __future__ import annotations

from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.desk.kit.one_line import Title
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.store.document.edit import Path


class TextField(QWidget):
    """Words that people type; what cannot be taken stays in the field, and what is wrong stands beneath it."""

    def __init__(self, session: Scope, path: Path, name: str, title: str, hint: str = "", parent: QWidget | None = None) -> None:
        """name: of what is typed, for whoever looks the field up; title: as it reads."""
        super().__init__(parent)
        self.session, self.path, self.name = session, path, name
        self.setObjectName(f"field {title}")
        self.title = Title(title, objectName="label")
        self.editor = QLineEdit(placeholderText=hint, accessibleName=title)
        self.editor.setMinimumWidth(44)
        self.editor.editingFinished.connect(self.commit)
        self.wrong = Label(objectName="wrong", wordWrap=True)
        self.wrong.hide()
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(2)
        for widget in (self.title, self.editor, self.wrong):
            box.addWidget(widget)
        self.setFocusProxy(self.editor)
        session.changed.connect(self._changed)
        self.refresh()

    def _changed(self, _names: object) -> None:
        if self.isVisible() and not self.editor.isModified():
            self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        if not self.editor.isModified():
            self.refresh()

    def refresh(self) -> None:
        """Show what the document holds."""
        self.editor.setText(str(self.session.value(self.path) or ""))
        self.editor.setCursorPosition(0)
        self.editor.setModified(False)
        self.wrong.hide()

    def release(self) -> None:
        """Listen no more: the field is about to go."""
        self.session.changed.disconnect(self._changed)
        self.editor.setModified(False)

    def commit(self) -> None:
        """Take what stands in the field into the document, or say what is wrong."""
        if not self.editor.isModified():
            return
        try:
            self.session.edit(self.path, self.editor.text().strip())
        except BadValue as why:
            self.wrong.setText(str(why))
            self.wrong.show()
            return
        self.refresh()
