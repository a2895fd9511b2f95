"""A new axis by three questions: what kind it is, what moves, how far and fast; then the few numbers that make its train whole."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QRadioButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue, Given
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.asked import Asked
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.field import Choice
from urban_mule.desk.kit.link_looks import TURN, draw_train
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.theme import polish_again
from urban_mule.desk.model.session import Session
from urban_mule.store.beginning import KINDS_OF_AXIS, UPRIGHT, AxisKind, UsualFor, begun_axis, is_blank, usual_for, with_axis

MEANT = {"m": "mm", "m/s": "mm/s", "m/s²": "mm/s²"}  # that is likeliest then
LETTERS = "XYZABCUVW"
LAID = ("level", "up and down")
SIGN = QSize(40, 26)
COLUMNS = 4  # of kinds
NOT_KNOWN = "not known yet"


class NewAxis(Dialog):
    """Three questions, then a page for the train; what is left empty is not known, and the trail says what comes next."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle("A new axis in three questions")
        self.setMinimumWidth(760)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box = QVBoxLayout(self)
        box.setContentsMargins(24, 18, 24, 18)
        box.setSpacing(10)
        self._kept = ""
        self._likelier: tuple[Asked, str]
        self.at = session.index if is_blank(session.axis) else None  # the blank axis that it makes, else a further one
        self.pages = QStackedWidget()
        self.pages.addWidget(self._questions())
        self.train = QWidget()
        self.train_box = QVBoxLayout(self.train)
        self.train_box.setContentsMargins(0, 0, 0, 0)
        self.pages.addWidget(self.train)
        self.sizes: dict[str, Asked] = {}
        self.usual: list[tuple[UsualFor, QComboBox]] = []
        box.addWidget(self.pages, 1)
        self.fault = Label(objectName="wrong", wordWrap=True)
        self.meant = QPushButton(objectName="plain", autoDefault=False)
        self.meant.hide()
        self.meant.clicked.connect(self._take_meant)
        doubt = QHBoxLayout()
        doubt.addWidget(self.fault, 1)
        doubt.addWidget(self.meant)
        box.addLayout(doubt)
        self.go, self.back, no = (QPushButton(text) for text in ("Next", "Back", "Cancel"))
        self.go.setObjectName("strong")
        self.go.setDefault(True)
        for button, action in ((self.go, self.go_on), (self.back, self._to_questions), (no, self.reject)):
            button.clicked.connect(action)
        self.back.setAutoDefault(False)
        no.setAutoDefault(False)
        row = QHBoxLayout()
        row.addWidget(self.back)
        row.addStretch(1)
        row.addWidget(no)
        row.addWidget(self.go)
        box.addLayout(row)
        for group in (self.kind_group, self.laid_group):
            group.buttonToggled.connect(lambda *_: self._fit())
        self._fill_in()
        self._fit()
        self._to_questions()

    def _questions(self) -> QWidget:
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(Label("1  What kind of axis?", objectName="heading"))
        self.kind_group = self._radios(box, [kind.words for kind in KINDS_OF_AXIS], COLUMNS)
        for button, kind in zip(self.kind_group.buttons(), KINDS_OF_AXIS, strict=True):
            button.setIcon(_sign(kind))
            button.setIconSize(SIGN)
        self.laid_group = self._radios(box, list(LAID), 2)
        box.addWidget(Label("2  What moves?", objectName="heading"))
        self.mass, self.name = Asked(""), Asked("Name of the axis")
        box.addLayout(_row(self.mass, self.name))
        box.addWidget(Label("3  How far, and how fast?", objectName="heading"))
        self.travel, self.speed, self.acceleration = (Asked(text) for text in ("Travel", "Speed wanted", "Acceleration wanted"))
        box.addLayout(_row(self.travel, self.speed, self.acceleration))
        box.addStretch(1)
        for before, after in pairwise((self.mass, self.travel, self.speed, self.acceleration, self.name)):  # its name is offered
            QWidget.setTabOrder(before.line, after.line)
        return page

    @staticmethod
    def _radios(box: QVBoxLayout, names: list[str], columns: int) -> QButtonGroup:
        group, grid = QButtonGroup(box), QGridLayout()
        for index, name in enumerate(names):
            button = QRadioButton(name)
            button.setChecked(index == 0)
            group.addButton(button, index)
            grid.addWidget(button, index // columns, index % columns)
        box.addLayout(grid)
        return group

    @property
    def kind(self) -> AxisKind:
        return KINDS_OF_AXIS[self.kind_group.checkedId()]

    def _fill_in(self) -> None:
        """What the blank axis says already, and the next letter for another one."""
        axis = None if self.at is None else self.session.axis
        taken = {one.name for one in self.session.project.axes}
        self.name.line.setText(axis.name if axis is not None else next((c for c in LETTERS if c not in taken), ""))
        if axis is not None and axis.motion == "rotary":
            self.kind_group.buttons()[[kind.motion for kind in KINDS_OF_AXIS].index("rotary")].setChecked(True)
        if axis is not None and axis.incline == UPRIGHT:
            self.laid_group.buttons()[1].setChecked(True)
        self._fit()
        for asked, name in (self._said() if axis is not None else ()):
            value = getattr(axis, name)
            if value is not None:
                asked.line.setText(number_text(value / units.factor(asked.unit, asked.si_unit), 6))

    def _said(self) -> tuple[tuple[Asked, str], ...]:
        """The questions that are numbers, and the keys of the document that they answer."""
        return ((self.mass, "moving_mass" if self.kind.motion == "linear" else "load_inertia"), (self.travel, "travel"),
                (self.speed, "speed_wanted"), (self.acceleration, "acceleration_wanted"))

    def _fit(self) -> None:
        """Names and units for what moves that way, and what comes next."""
        self.go.setText("Next" if self.kind.sizes else "Add the axis")
        linear = self.kind.motion == "linear"
        for button in self.laid_group.buttons():
            button.setEnabled(linear)
        self.mass.ask("Moving mass" if linear else "Moving inertia", "kg" if linear else "kg·m²", self.session.system)
        along = "m" if linear else "rad"
        for asked, per in ((self.travel, ""), (self.speed, "/s"), (self.acceleration, "/s²")):
            asked.ask(asked.words, along + per, self.session.system)

    def _to_questions(self) -> None:
        self.pages.setCurrentIndex(0)
        self.back.hide()
        self._fit()
        checked = self.kind_group.checkedButton()
        if checked is not None:
            checked.setFocus()

    def _to_train(self) -> None:
        """The page of the kind that was chosen: its sizes, and what is usual for the rest."""
        while self.train_box.count():
            item = self.train_box.takeAt(0)
            if item is not None and (widget := item.widget()) is not None:
                widget.deleteLater()
        kept = {name: asked.line.text() for name, asked in self.sizes.items()}
        self.sizes, self.usual = {}, []
        page = QWidget()
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        box.addWidget(Label(f"The {self.kind.link.kind}", objectName="heading"))
        for given in self.kind.sizes:
            asked = self.sizes[given.name] = Asked(given.label, given.doc)
            asked.ask(given.label, given.unit, self.session.system, given)
            asked.line.setText(kept.get(given.name, ""))
            asked.line.editingFinished.connect(self._offer_usual)
        box.addLayout(_row(*self.sizes.values()))
        self.offers = QGridLayout()
        self.offers.setVerticalSpacing(6)
        self.offers.setColumnStretch(1, 1)
        box.addLayout(self.offers)
        box.addStretch(1)
        self.train_box.addWidget(page)
        self._offer_usual()
        self.pages.setCurrentIndex(1)
        self.back.show()
        self.go.setText("Add the axis")
        next(iter(self.sizes.values())).line.setFocus()

    def _offer_usual(self) -> None:
        """The usual values for the sizes as they are typed so far; what was chosen stays."""
        try:
            sizes = {name: value for name, asked in self.sizes.items() if (value := asked.value()) is not None}
            found = usual_for(self.kind, sizes)
        except BadValue:
            return
        said = [(one.given.name, [value.value for value in one.values]) for one in found]
        if said == [(one.given.name, [value.value for value in one.values]) for one, _ in self.usual]:
            return
        chosen = {one.given.name: box.currentIndex() for one, box in self.usual}
        for _, box in self.usual:
            box.hide()
        while self.offers.count():
            item = self.offers.takeAt(0)
            if item is not None and (widget := item.widget()) is not None:
                widget.deleteLater()
        self.usual = []
        head = Label("Usual values, marked as assumed until somebody types what the data sheet says", objectName="heading",
                     wordWrap=True)
        self.offers.addWidget(head, 0, 0, 1, 2)
        for row, one in enumerate(found, start=1):
            box = Choice(accessibleName=f"{one.given.label}, usual values")
            box.addItems([f"{_worded(one.given, value.value)}: {value.words}  ({value.source})" for value in one.values])
            box.addItem(f"{NOT_KNOWN}, taken as ideal" if one.given.assumed else NOT_KNOWN)
            box.setCurrentIndex(min(chosen.get(one.given.name, 0), box.count() - 1))
            self.usual.append((one, box))
            self.offers.addWidget(Label(one.given.label, objectName="label"), row, 0)
            self.offers.addWidget(box, row, 1)

    def axis(self) -> dict[str, Any]:
        """The new axis as the document takes it. Raises BadValue."""
        said: dict[str, Any] = {"name": self.name.line.text().strip()}
        said |= {name: asked.value() for asked, name in self._said()}
        usual = {(one.part, one.given.name): one.values[box.currentIndex()].value for one, box in self.usual
                 if box.currentIndex() < len(one.values)} if self.sizes else {}
        sizes = {name: asked.value() for name, asked in self.sizes.items()}
        return begun_axis(self.kind, self.laid_group.checkedId() == 1, said, sizes, usual)

    def _ask_where_far_off(self) -> None:
        """Ask once about what is far beyond what such machines do: another unit was meant. Raises BadValue, which asks."""
        typed = (self.travel, self.speed, self.acceleration)
        text = " ".join(asked.line.text() for asked in typed)
        for asked in typed:
            value = asked.value()
            if value is None or not units.far_off(value, asked.si_unit) or self._kept == text:
                continue
            self._kept = text
            meant = MEANT.get(asked.si_unit) if self.session.system == "metric" else None
            plain = asked.line.text().strip().split(" ")[0]
            if meant is not None:
                self.meant.setText(f"Take {plain} {meant}")
                self._likelier = asked, f"{plain} {meant}"
                self.meant.show()
            raise BadValue(f"{asked.words}: {asked.text_of(value)} is far beyond what such an axis does"
                           f"{f'; {plain} {meant} is more likely' if meant else ''}. {self.go.text()} once more keeps it")

    def _take_meant(self) -> None:
        asked, text = self._likelier
        asked.line.setText(text)
        self._say("")
        asked.line.setFocus()

    def _say(self, why: str) -> None:
        self.fault.setText(why)
        if not why:
            self.meant.hide()

    def go_on(self) -> None:
        """To the page of the train, or to the end; what is wrong is said, and everything typed stays."""
        self._say("")
        try:
            if self.pages.currentIndex() == 0:
                made = {name: asked.value() for asked, name in self._said()}
                self._ask_where_far_off()
                if self.kind.sizes:
                    self._to_train()
                    return
                self.sizes, self.usual = {}, []
            made = self.axis()
            project = with_axis(self.session.project, made, self.at)
        except BadValue as why:
            self._say(f"{str(why)[:1].upper()}{str(why)[1:].rstrip('.')}.")
            polish_again(self.fault)
            return
        self.session.replace(project, f"axis {made['name']} {'begun' if self.at is not None else 'added'}")
        self.session.show_axis(len(project.axes) - 1 if self.at is None else self.at)
        self.accept()


def _row(*asked: Asked) -> QHBoxLayout:
    row = QHBoxLayout()
    row.setSpacing(16)
    for one in asked:
        row.addWidget(one, 1)
    return row


def _sign(kind: AxisKind) -> QIcon:
    """The small drawing of a kind of train."""
    drawn = QPixmap(SIGN * 2)
    drawn.setDevicePixelRatio(2.0)
    drawn.fill(Qt.GlobalColor.transparent)
    painter = QPainter(drawn)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_train(painter, kind.link.kind if kind.motion == "linear" else TURN, QRectF(2, 2, SIGN.width() - 4, SIGN.height() - 4))
    painter.end()
    return QIcon(drawn)


def _worded(given: Given, value: Any) -> str:
    """A usual value as it reads in a list."""
    return value if isinstance(value, str) else str(units.show(value, given.unit, digits=3, own=given.shown))
