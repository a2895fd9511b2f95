"""Templates: the text on the left, what comes of it on the right, checked as it is typed; written only where the user says."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.template_data import template_data
from urban_mule.store.templates.templates import fill, keep_template, own_templates, shipped_templates
from urban_mule.store.text_files import BadFile, safe_name, write_whole

PAUSE = 400  # ms after the last key until it is filled anew
HOW = ("Between double braces stands a value, such as {{ project }}; axes is a list, each with name, unit, settings (name, title,"
       " value, shown, parts (number, unit), on_machine, differs, at_reset), follower (the settings of its second motor),"
       " corrections (target, correction, increment, correction_after_scale, worth), waves (name, period, amplitude, phase in rad)"
       " and moves; spindles is a"
       " list of the same with name and settings.")
PRACTICE = "This is a practice project: what is written here belongs on no machine."


class TemplatesWindow(Dialog):
    """One template at a time; what is typed is filled in a process of its own."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle("Templates")
        self.resize(1080, 680)
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        row = QHBoxLayout()
        self.which = QComboBox(accessibleName="Template")
        self.which.setMinimumWidth(220)
        self.which.activated.connect(lambda _index: self._choose())
        self.name = QLineEdit(placeholderText="name of your own", accessibleName="Name under which it is kept")
        keep = QPushButton("Keep as mine", autoDefault=False)  # else Enter in the name would press whichever comes first
        out = QPushButton("Write it…", objectName="strong", autoDefault=False)
        self.name.returnPressed.connect(self.keep)
        keep.clicked.connect(self.keep)
        out.clicked.connect(self.write)
        for widget, share in ((self.which, 0), (self.name, 1), (keep, 0), (out, 0)):
            row.addWidget(widget, share)
        box.addLayout(row)
        box.addWidget(Label(HOW, objectName="label", wordWrap=True))
        both = QHBoxLayout()
        self.text, self.preview = QPlainTextEdit(), QPlainTextEdit(readOnly=True)
        self.text.setAccessibleName("The template")
        self.preview.setAccessibleName("What comes of it")
        self.text.textChanged.connect(self._restart)
        both.addWidget(self.text, 1)
        both.addWidget(self.preview, 1)
        box.addLayout(both, 1)
        self.said = Label(PRACTICE if session.project.practice else "", objectName="caution", wordWrap=True)
        box.addWidget(self.said)
        self._later = QTimer(self, singleShot=True, interval=PAUSE)
        self._later.timeout.connect(self.fill)
        self.faulty = True
        self._list()

    def _restart(self) -> None:
        self._later.start()

    def _list(self, shown: str = "") -> None:
        self.which.clear()
        for name, text in {**shipped_templates(), **own_templates()}.items():
            self.which.addItem(name, text)
        self.which.setCurrentIndex(max(0, self.which.findText(shown)))
        if not shown:
            self._choose()

    def _choose(self) -> None:
        self.text.setPlainText(self.which.currentData() or "")
        self.name.setText(self.which.currentText())

    def fill(self) -> None:
        """Fill what is typed; the former preview stays until it can be."""
        self._later.stop()
        text, data = self.text.toPlainText(), template_data(self.session)
        self.session.works.run(("a template", id(self)), self, lambda _progress: fill(text, data), self._filled, self._wrong)

    def _filled(self, text: str) -> None:
        self.faulty = False
        self.preview.setPlainText(text)
        self.said.setText(PRACTICE if self.session.project.practice else "")

    def _wrong(self, why: str) -> None:
        self.faulty = True
        self.said.setText(f"{why[:1].upper()}{why[1:]}")

    def keep(self) -> None:
        """Keep the template with the user."""
        try:
            self._list(keep_template(self.name.text() or "mine", self.text.toPlainText()))
        except BadFile as why:
            self._wrong(str(why))

    def write(self) -> None:
        """Write what came of it where the user says."""
        if self.faulty:
            self.said.setText("It is not written while something is wrong with it.")
            return
        name, _ = QFileDialog.getSaveFileName(self, "Write", f"{safe_name(self.name.text())}.txt", "All files (*)")
        if name:
            try:
                write_whole(Path(name), self.preview.toPlainText())
            except BadFile as why:
                self._wrong(str(why))
