"""The guide beside the work: a page for each stage, one from the dial in the hand to the corrected axis, one of keys."""

from __future__ import annotations

from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QTextBrowser, QWidget

from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.resources import RESOURCES

PAGES: dict[str, str] = {"keys": "Keys and words", **{stage.lower(): stage for stage in STAGES}, "spindle": "Spindle",
                         "measuring": "Measuring, step by step", "out": "Out and back in"}


def guide_page(name: str) -> str:
    """A page as Markdown. Raises KeyError for one that there is not."""
    if name not in PAGES:
        raise KeyError(name)
    return RESOURCES.joinpath(f"guide/{name}.md").read_text(encoding="utf-8")


class GuideWindow(Dialog):
    """Pages on the left, the page on the right; it stays open beside the window."""

    def __init__(self, page: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Guide")
        self.resize(860, 640)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 16, 16, 16)
        self.pages = QListWidget(accessibleName="Pages of the guide")
        self.pages.addItems(list(PAGES.values()))
        self.pages.setFixedWidth(190)
        self.text = QTextBrowser(openLinks=False)
        self.text.setAccessibleName("The page")
        self.pages.currentRowChanged.connect(self._turn)
        row.addWidget(self.pages)
        row.addWidget(self.text, 1)
        self.show_page(page)

    def show_page(self, page: str) -> None:
        """Turn to a page by its name."""
        self.pages.setCurrentRow(list(PAGES).index(page))

    def _turn(self, row: int) -> None:
        if row >= 0:
            self.text.setMarkdown(guide_page(list(PAGES)[row]))
