"""Photographs that are kept in the project: read from a file, made small enough, shown small, and large on a press."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QIcon, QImage, QImageReader, QPixmap
from PyQt6.QtWidgets import QDialog, QFileDialog, QPushButton, QVBoxLayout, QWidget

from urban_mule.desk.kit.dropped import dropped_file, may_drop
from urban_mule.desk.kit.painting import Label, tip
from urban_mule.desk.model.scope import Scope
from urban_mule.store.file.project_file import now
from urban_mule.store.text_files import BadFile, from_file, safe_name

LARGEST = 40e6  # bytes of a picture that is taken in
LONGEST_SIDE, QUALITY = 1600, 82  # px and per cent at which it is kept: labels on wires can still be read
MEDIA_TYPE = "image/jpeg"
SMALL = QSize(96, 64)


def as_kept(raw: bytes) -> bytes:
    """A picture as the project keeps it. Raises BadFile."""
    buffer = QBuffer()
    buffer.setData(raw)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    reader = QImageReader(buffer)
    reader.setAutoTransform(True)
    size = reader.size()
    if size.isValid() and max(size.width(), size.height()) > LONGEST_SIDE:
        reader.setScaledSize(size.scaled(LONGEST_SIDE, LONGEST_SIDE, Qt.AspectRatioMode.KeepAspectRatio))
    image = reader.read()
    if image.isNull():
        raise BadFile("this is no picture that can be read; JPEG and PNG can.")
    out = QBuffer()
    out.open(QIODevice.OpenModeFlag.WriteOnly)
    image.convertToFormat(QImage.Format.Format_RGB32).save(out, "JPG", QUALITY)
    return bytes(out.data())


class Photograph(QPushButton):
    """A place for one photograph: dropped on it or chosen, then shown small; a press shows it large.

    taken(name): one was put into the project under this name.
    """

    taken = pyqtSignal(str)

    def __init__(self, session: Scope, about: str, parent: QWidget | None = None) -> None:
        super().__init__("Photograph…", parent, autoDefault=False)
        self.session, self.about, self.name = session, about, ""
        self.setAcceptDrops(True)
        self.setAccessibleName(f"Photograph: {about}")
        tip(self, "Drop a photograph here, or press to choose one; it is kept in the project")
        self.clicked.connect(self._pressed)

    def show_photograph(self, name: str) -> None:
        """Show the one of this name, or none."""
        if name == self.name:
            return
        self.name = name
        data = self._data()
        pixmap = QPixmap()
        if data is not None and pixmap.loadFromData(data):
            small = pixmap.scaled(SMALL, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
            self.setIcon(QIcon(small))
            self.setIconSize(SMALL)
            self.setText("")
        else:
            self.setIcon(QIcon())
            self.setText("Photograph…")

    def _data(self) -> bytes | None:
        try:
            return self.session.saving.file.attachment(self.name) if self.name else None
        except BadFile as why:
            self.session.told.emit(str(why))
            return None

    def _pressed(self) -> None:
        if self.name:
            self._show_large()
            return
        chosen, _ = QFileDialog.getOpenFileName(self, "Photograph", "", "Pictures (*.jpg *.jpeg *.png)")
        if chosen:
            self.take(Path(chosen))

    def take(self, path: Path) -> None:
        """Keep the photograph of a file; reading and scaling go on in the background."""
        if not self.session.may_write():
            return
        name = f"{now():%Y%m%d-%H%M%S-%f} {safe_name(self.about)}"  # several may be dropped at once

        def kept(data: bytes) -> None:
            self.session.saving.attach(name, MEDIA_TYPE, data)
            self.taken.emit(name)

        self.session.works.run(("a photograph", str(path)), self, lambda _progress: from_file(path, LARGEST, as_kept), kept)

    def _show_large(self) -> None:
        data, pixmap = self._data(), QPixmap()
        if data is None or not pixmap.loadFromData(data):
            self.session.told.emit("This photograph is not in the project file any more.")
            return
        window = QDialog(self)
        window.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        window.setWindowTitle(self.about)
        box = QVBoxLayout(window)
        shown = Label()
        shown.setPixmap(pixmap.scaled(1000, 700, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation))
        box.addWidget(shown)
        other = QPushButton("Take another")
        other.clicked.connect(window.close)
        other.clicked.connect(self._another)
        box.addWidget(other)
        window.show()

    def _another(self) -> None:
        self.name = ""
        self._pressed()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        may_drop(event)

    def dropEvent(self, event: QDropEvent | None) -> None:
        name = dropped_file(event)
        if name:
            self.take(Path(name))
