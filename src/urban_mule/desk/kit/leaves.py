"""The pictures of a stage as leaves, one above the other, and the words that turn them."""

from __future__ import annotations

from importlib import import_module

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QButtonGroup, QPushButton, QScrollArea, QSizePolicy, QStackedWidget, QWidget

from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.picture import Painted, Picture
from urban_mule.desk.model.first import answering
from urban_mule.desk.model.scope import Scope
from urban_mule.store.fault_log import note_fault


class Broken(Painted):
    """Stands where a picture cannot even be made."""

    def __init__(self, session: Scope, fault: Exception) -> None:
        super().__init__(session)
        self._why = fault

    def paint(self, _painter: QPainter, _area: QRectF) -> None:
        raise self._why


def scrolling(picture: Picture) -> QScrollArea:
    """A picture made of widgets, which scrolls where they need more room than there is."""
    holder = QScrollArea(widgetResizable=True)
    holder.setFrameShape(QScrollArea.Shape.NoFrame)
    holder.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    holder.setWidget(picture)
    return holder


class Leaves(QStackedWidget):
    """The leaves of a stage; each picture is made when it is first turned to.

    leaves: (word, `module:Class`). turned(word): another leaf lies on top. said: the one on top has another headline.
    `words` is the row of words to click; it is
    empty where there is one leaf only. `begin` lays the first leaf on top.
    """

    turned = pyqtSignal(str)
    said = pyqtSignal()

    def __init__(self, session: Scope, leaves: tuple[tuple[str, str], ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._leaves = session, leaves
        self._made: dict[str, Picture] = {}
        self._left_out: tuple[str, ...] = ()
        self._holders: dict[str, QWidget] = {}  # the pictures, or what scrolls them where they are too high
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.words = QWidget()
        row = Flow(self.words, 4)
        self._buttons = QButtonGroup(self)
        for word, _ in leaves if len(leaves) > 1 else ():
            button = QPushButton(word, objectName="leaf", checkable=True)
            button.setAccessibleName(f"Show {word}")
            button.clicked.connect(lambda _checked, word=word: self.turn(word))
            self._buttons.addButton(button)
            row.addWidget(button)
        if len(leaves) == 1:
            self.words.hide()

    @property
    def word(self) -> str:
        """The word of the leaf on top."""
        return next((word for word, holder in self._holders.items() if holder is self.currentWidget()), self._leaves[0][0])

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), self.minimumHeight())  # it takes what is left, and gives none of its share

    @property
    def made(self) -> Picture | None:
        """The picture on top, where it is made already."""
        return self._made.get(self.word)

    def says(self) -> tuple[str, str] | None:
        """The headline of the picture on top and the line beneath it; None where a verdict says it, or it cannot be said."""
        made = self.made
        try:
            return None if made is None else made.says()
        except Exception as error:
            note_fault(error, f"the headline of {self.word}")
            return None

    def _said(self, picture: Picture) -> None:
        if picture is self.made:
            self.said.emit()

    @property
    def all_words(self) -> list[str]:
        """The words of all leaves that there are here, in order."""
        return [word for word, _ in self._leaves if word not in self._left_out]

    def leave_out(self, words: tuple[str, ...]) -> None:
        """Offer all leaves but these; where one of them lies on top, the first is laid there. It is never among them."""
        if words == self._left_out:
            return
        self._left_out = words
        for button in self._buttons.buttons():
            button.setVisible(button.text() not in words)
        if self.word in words:
            self.begin()

    @property
    def picture(self) -> Picture:
        """The picture on top."""
        return self.leaf(self.word)

    def leaf(self, word: str) -> Picture:
        """The picture behind a word, made when it is first asked for. Raises KeyError."""
        if word not in self._made:
            self._made[word] = self._picture(dict(self._leaves)[word])
            made = self._made[word]
            self._holders[word] = holder = made if isinstance(made, Painted) else scrolling(made)
            self.addWidget(holder)
            made.said_anew.connect(lambda: self._said(made))
        return self._made[word]

    def _picture(self, where: str) -> Picture:
        module, _, name = where.partition(":")
        try:
            made: Picture = getattr(import_module(module), name)(self.session)
        except Exception as error:
            made = Broken(self.session, error)
        return made

    def make_first(self) -> None:
        """Make the first leaf, not yet shown."""
        self.leaf(self.all_words[0])

    def begin(self) -> None:
        """Make the first leaf and lay it on top."""
        self.turn(self.all_words[0])

    def turn(self, word: str) -> None:
        """Lay a leaf on top."""
        answering()
        self.leaf(word)
        self.setCurrentWidget(self._holders[word])
        for button in self._buttons.buttons():
            button.setChecked(button.text() == word)
        self.turned.emit(word)

    def turn_on(self, step: int) -> None:
        """Lay the next leaf on top, or the former one."""
        words = self.all_words
        self.turn(words[(words.index(self.word) + step) % len(words)])
