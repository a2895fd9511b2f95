"""What the window says: that it is saved or not, one sentence at a time, what it is."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMessageBox, QWidget

from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.verdict import next_number
from urban_mule.desk.frame.file_work import FileWork
from urban_mule.desk.frame.keys import KeyedWindow
from urban_mule.desk.frame.notice import Notice
from urban_mule.desk.frame.trail import Trail
from urban_mule.desk.kit import theme as look
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model import memory
from urban_mule.desk.model.session import Session
from urban_mule.store.file.project_file import now

ABOUT = (
    "Urban Mule {}: sizes, sets, measures and proves the axes of a machine. Free software under the GNU General Public"
    " License, version 3 or later, without any warranty.\n\nShipped with it: the typeface B612 under the SIL Open Font License"
    " 1.1.\n\nBuilt on Python (PSF licence), Qt and PyQt6 (GPL 3), pyqtgraph (MIT), NumPy (BSD), Numba (BSD),"
    " Jinja2 (BSD), platformdirs (MIT), pyserial (BSD), SQLite (public domain).\n\nIt computes; it certifies nothing. Local"
    " codes and licensed practice decide.")


class TellingWindow(KeyedWindow):
    """A window as far as it speaks of its project."""

    session: Session
    files: FileWork
    saved: Label
    project_name: Label
    practice: QWidget
    trail: Trail
    notice: Notice
    _leaving: bool
    _expected: tuple[str, StageName, str] | None = None  # whose number, of which stage and check

    def expect(self, stage: StageName) -> None:
        """Somebody goes elsewhere for what the next number of a stage lacks: once it is known, that is told where one is then."""
        ahead = next_number(tuple(one for one in self.session.state.all_verdicts if one.stage == stage))
        self._expected = None if ahead is None else (self.session.state.id, stage, ahead.check)

    def _tell_expected(self, _names: object) -> None:
        if self._expected is None:
            return
        who, stage, check = self._expected
        state = self.session.state
        found = next((one for one in state.all_verdicts if one.check == check), None)
        if who == state.id and found is not None and found.level != "unknown":
            self._expected = None
            if self.trail.stage != stage:
                self.notice.say(f"{stage}: {state.told(found).sentence}", stage)

    def _title(self) -> None:
        self.practice.setVisible(bool(self.session.project.practice))
        self.setWindowTitle(f"{self.session.project.name or self.session.path.stem} – Urban Mule")
        self.project_name.setText(self.session.project.name or self.session.path.stem)

    def _saved(self, revision: object) -> None:
        if self.saved.property("wrong"):
            self.saved.setProperty("wrong", None)
            look.polish_again(self.saved)
        time = getattr(revision, "time", None)
        if time is not None:
            local = time.astimezone()
            today = local.date() == now().astimezone().date()
            self.saved.setText(f"saved {local:%H:%M}" if today else f"saved {local.day} {local:%B %Y}")
        if self.session.file.read_only:
            self.saved.setText(f"to look at only: {self.session.file.read_only}")
            self.saved.setWordWrap(True)
        self.project_name.setText(self.session.project.name or self.session.path.stem)

    def _failed(self, why: str) -> None:
        self.saved.setText("NOT SAVED, tried again")
        self.saved.setProperty("wrong", "true")
        look.polish_again(self.saved)
        if self.session.file.moved_away and not self._leaving:
            self._offer(f"{why} Save it elsewhere, and the work goes on there.", "Go on like this")
        else:
            self.tell(why)

    def _offer(self, sentence: str, stay: str, leave: str = "") -> None:
        """Say what is not saved, and offer to save it elsewhere; leave: the word for closing all the same."""
        if any(box.objectName() == "not saved" for box in self.findChildren(QMessageBox)):
            return
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Not saved", sentence, QMessageBox.StandardButton.NoButton, self)
        box.setObjectName("not saved")
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        elsewhere = box.addButton("Save elsewhere…", QMessageBox.ButtonRole.AcceptRole)
        box.addButton(stay, QMessageBox.ButtonRole.RejectRole)
        anyway = box.addButton(leave, QMessageBox.ButtonRole.DestructiveRole) if leave else None

        def chosen(button: object) -> None:
            if button is elsewhere:
                self.files.save_elsewhere()
            elif anyway is not None and button is anyway:
                self._leaving = True
                self.close()

        box.buttonClicked.connect(chosen)
        box.open()

    def tell(self, sentence: str) -> None:
        """One sentence to the user, without stopping the work; the same one is not said twice at a time."""
        if any(box.text() == sentence for box in self.findChildren(QMessageBox)):
            return
        box = QMessageBox(QMessageBox.Icon.NoIcon, "Urban Mule", sentence, QMessageBox.StandardButton.Ok, self)
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.open()

    def show_about(self) -> None:
        from importlib.metadata import version  # costs a start more than the window's frame

        self.tell(ABOUT.format(version("urban-mule")))

    def take_text_size(self, size: int) -> None:
        """Keep how large all is to be shown; it holds from the next start on."""
        memory.keep(text_size=size)
        self.tell(f"From the next start on all is shown at {size} %.")
