"""Words that lead somewhere: what is missing, each a button that goes to its field."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from urban_mule.desk.kit.painting import Label, tip

GAP = 2


class Links(QWidget):
    """As many links in a row as fit, and how many more there are, after a word. chosen(name): one was clicked."""

    chosen = pyqtSignal(str)

    def __init__(self, word: str = "go to", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.links: tuple[tuple[str, str], ...] = ()
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(GAP)
        self.buttons: list[QPushButton] = []
        self._more = Label(objectName="label")
        self._row.addWidget(Label(word, objectName="label"))
        self._row.addWidget(self._more)
        self._row.addStretch(1)

    def show_links(self, links: tuple[tuple[str, str], ...]) -> None:
        """Show these (name, words); an empty row takes no room."""
        if links != self.links:
            self.links = links
            for button in self.buttons:
                button.hide()
                self._row.removeWidget(button)
                button.deleteLater()
            self.buttons = [self._button(name, words) for name, words in links]
            self._fit()
        self.setVisible(bool(links))

    def _button(self, name: str, words: str) -> QPushButton:
        button = QPushButton(words, self, objectName="plain")
        button.setAccessibleName(f"Go to {words}")
        button.clicked.connect(lambda _checked: self.chosen.emit(name))
        self._row.insertWidget(self._row.count() - 2, button)
        return button

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        room, shown = self.width() - 120, 0
        for button in self.buttons:
            room -= button.sizeHint().width() + GAP
            button.setVisible(room >= 0 or not shown)
            shown += not button.isHidden()
        left = [words for _, words in self.links[shown:]]
        self._more.setText(f"and {len(left)} more" if left else "")
        tip(self._more, "\n".join(left))
