"""The axes as plates: a large letter, a small drawing of the train, the tightest verdict."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QScrollArea, QVBoxLayout, QWidget

from urban_mule.desk.kit.link_looks import draw_train, train_kind
from urban_mule.desk.kit.painting import painted
from urban_mule.desk.kit.theme import draw_mark, font, theme
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.subject_scope import SubjectScope
from urban_mule.desk.model.upkeep import UpkeepTasks
from urban_mule.desk.model.words import state_word
from urban_mule.store.document.project import Axis

WIDTH, PLATE = 104, 96


class Pressed(QWidget):
    """A plate that is chosen by a click, Enter or Space. chosen(index)."""

    chosen = pyqtSignal(int)
    index: int

    def mousePressEvent(self, _event: QMouseEvent | None) -> None:
        self.setFocus()
        self.chosen.emit(self.index)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.index)
        else:
            super().keyPressEvent(event)


def paint_level(painter: QPainter, level: str, y: float) -> None:
    """The mark and the word of the verdict that decides, y: of their middle [px]; the word alone while nothing is known."""
    left = 16
    if level:
        draw_mark(painter, level, QPointF(23, y), 5.5)
        left = 36
    painter.setFont(font(12))
    painter.setPen(theme.color(level or "muted"))
    painter.drawText(QRectF(left, y - 9, WIDTH - left, 18), Qt.AlignmentFlag.AlignVCenter, state_word(level))


class Plate(Pressed):
    """One axis."""

    def __init__(self, session: Session, index: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.index = session, index
        self.aside = False  # another subject is shown instead
        self.upkeep, self.late = UpkeepTasks(session), 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedSize(WIDTH, PLATE)
        self.setObjectName(f"plate {self.axis.name}")
        self.describe()
        session.changed.connect(self.describe)
        session.book_changed.connect(self.describe)

    @property
    def axis(self) -> Axis:
        return self.session.project.axes[self.index]

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, PLATE)

    def describe(self, _names: object = None) -> None:
        """Say aloud what is painted."""
        if self.index < len(self.session.project.axes):
            known = self.session.is_known(self.axis)
            late = [one.task for one in self.upkeep.of_axis(self.axis) if one.late] if known else []
            self.late = len(late)
            said = f"Axis {self.axis.name}, {self._kind()}, {state_word(self._level())}" + (
                f", overdue: {', '.join(late)}" if late else "")
            if said != self.accessibleName():
                self.setAccessibleName(said)
                self.update()

    def _kind(self) -> str:
        fellow = self.session.project.fellow_of(self.axis)
        if fellow is not None:
            return f"with {fellow.name}"
        kind = train_kind(self.axis) or "no train yet"
        count = int(self.axis.motor_count or 1)
        if count > 1:
            return f"{kind}, {count} motors"
        return f"{kind}, vertical" if (self.axis.incline or 0) > 1.4 else kind

    def _level(self) -> str:
        """The verdict that decides: good only when nothing is left to judge; nothing while it is computed for the first time."""
        if not self.session.is_known(self.axis):
            return ""
        worst = self.session.worst_last(self.axis)
        return "unknown" if worst is None else worst.level

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        here = self.index == self.session.index and not self.aside
        if here:
            painter.fillRect(self.rect(), theme.color("panel"))
            painter.fillRect(QRectF(0, 0, 4, PLATE), theme.color("accent"))
        painter.setPen(theme.color("accent" if here else "ink"))
        name = self.axis.name
        painter.setFont(font(34 if len(name) == 1 else 17, bold=True))
        painter.drawText(QRectF(16, 8, 40 if len(name) == 1 else WIDTH - 20, 40), Qt.AlignmentFlag.AlignVCenter, name)
        if len(name) == 1:
            draw_train(painter, train_kind(self.axis), QRectF(50, 12, 44, 32))
        level = self._level()
        paint_level(painter, level, 60)
        painter.setPen(theme.color("tight" if self.late else "muted"))
        beneath = f"{self.late} overdue" if self.late else self._kind()
        text = painter.fontMetrics().elidedText(beneath, Qt.TextElideMode.ElideRight, WIDTH - 18)
        painter.drawText(QRectF(16, 71, WIDTH - 16, 18), Qt.AlignmentFlag.AlignVCenter, text)
        if self.hasFocus():
            painter.setPen(theme.pen("accent", 1.4))
            painter.drawRect(QRectF(1, 1, WIDTH - 2, PLATE - 2))


class Joined(QWidget):
    """A belt over two small pulleys at the edge of the plates, for each pair of axes that two motors move together."""

    PULLEY, EDGE = 3.5, 7.0  # px of a pulley's radius, and of its middle from the right edge

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.session = session
        self.plates: list[Plate] = []
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        parent.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Lie over all of what the plates stand on, however large it becomes."""
        if event is not None and event.type() in (QEvent.Type.Resize, QEvent.Type.LayoutRequest) and isinstance(watched, QWidget):
            self.setGeometry(watched.rect())
        return False

    def join(self, plates: list[Plate]) -> None:
        """Join those of these plates whose axes are a pair."""
        self.plates = list(plates)
        pairs = [pair.axes for pair in self.session.project.pairs or ()]
        self.setAccessibleName("; ".join(f"{one} and {other} share two motors" for one, other in pairs))
        self.setVisible(bool(pairs))
        self.raise_()
        self.update()

    def joins(self) -> list[tuple[float, float]]:
        """For each pair, from where to where its belt runs [px]: the middles of both plates."""
        middles = {plate.axis.name: float(plate.geometry().center().y()) for plate in self.plates}
        return [(middles[one], middles[other]) for one, other in (pair.axes for pair in self.session.project.pairs or ())
                if one in middles and other in middles]

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(theme.pen("muted", 1.4))
        painter.setBrush(theme.color("panel"))
        x, r = WIDTH - self.EDGE, self.PULLEY
        for one, other in self.joins():
            for side in (-r, r):
                painter.drawLine(QPointF(x + side, one), QPointF(x + side, other))
            for y in (one, other):
                painter.drawEllipse(QPointF(x, y), r, r)


class OtherPlate(Pressed):
    """A subject that is no axis: its name, of a spindle a wheel, its tightest verdict."""

    HEIGHT = 64

    def __init__(self, session: Session, index: int, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.scope, self.index, self.here = SubjectScope(session, session.project.others[index].id), index, False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFixedSize(WIDTH, self.HEIGHT)
        self.setObjectName(f"plate {self.scope.axis.name}")
        session.changed.connect(self._describe)
        self._describe()

    def _describe(self, _names: object = None) -> None:
        self.setAccessibleName(f"{self.scope.axis.name.capitalize()}, {state_word(self._level())}")
        self.update()

    def _level(self) -> str:
        if not self.scope.is_known:
            return ""
        worst = self.scope.worst()
        return "unknown" if worst is None else worst.level

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.here:
            painter.fillRect(self.rect(), theme.color("panel"))
            painter.fillRect(QRectF(0, 0, 4, self.HEIGHT), theme.color("accent"))
        name = str(self.scope.axis.letter)  # type: ignore[attr-defined]
        one = len(name) == 1
        painter.setFont(font(26 if one else 13, bold=True))
        painter.setPen(theme.color("accent" if self.here else "ink"))
        painter.drawText(QRectF(16, 4, WIDTH - 20, 34), Qt.AlignmentFlag.AlignVCenter,
                         painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, WIDTH - (60 if one else 20)))
        if one and self.scope.key == "spindles":
            painter.setPen(theme.pen("muted", 1.4))
            painter.drawEllipse(QPointF(74, 21), 11, 11)
            painter.drawLine(QPointF(74, 21), QPointF(82, 13))
        level = self._level()
        paint_level(painter, level, 48)
        if self.hasFocus():
            painter.setPen(theme.pen("accent", 1.4))
            painter.drawRect(QRectF(1, 1, WIDTH - 2, self.HEIGHT - 2))


class Plates(QScrollArea):
    """All axes, the other subjects, and the plus that adds an axis; more than fit are scrolled to.

    chosen, other_chosen(index).
    """

    add = pyqtSignal()
    chosen = pyqtSignal(int)
    other_chosen = pyqtSignal(int)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent, widgetResizable=True)
        self.session = session
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inner = QWidget()
        self._box = QVBoxLayout(inner)
        self._box.setContentsMargins(0, 8, 0, 8)
        self._box.setSpacing(4)
        self.plates: list[Plate] = []
        self.others: list[OtherPlate] = []
        self.shown_other: int | None = None
        self.plus = QPushButton("+", objectName="plain")
        self.plus.setFont(font(22))
        self.plus.setFixedSize(WIDTH, 36)
        self.plus.setStyleSheet("text-align: center;")
        self.plus.setAccessibleName("Add an axis")
        self.plus.clicked.connect(self.add)
        session.axis_changed.connect(self.rebuild)
        session.changed.connect(self._follow)
        self.setWidget(inner)
        self.joined = Joined(session, inner)
        self.rebuild()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()
        self.joined.join(self.plates)

    def _fit(self) -> None:
        """Room for the bar where the plates need one; the shown one in sight."""
        inner, bar = self.widget(), self.verticalScrollBar()
        if inner is None or bar is None:
            return
        tall = inner.minimumSizeHint().height() > self.height()
        self.setFixedWidth(WIDTH + (bar.sizeHint().width() if tall else 0))
        shown: list[QWidget] = list(self.plates) if self.shown_other is None else list(self.others)
        place = self.session.index if self.shown_other is None else self.shown_other
        if tall and place < len(shown):
            self._box.activate()
            inner.adjustSize()
            self.ensureWidgetVisible(shown[place], 0, PLATE // 2)

    def _names(self) -> list[str]:
        project = self.session.project
        return [f"plate {one.called}" for one in project.subjects]

    def _follow(self, names: frozenset[str]) -> None:
        if len(self.others) != len(self.session.project.others):
            self.rebuild()
        elif "fellow" in names:
            self.joined.join(self.plates)

    def show_other(self, index: int | None) -> None:
        """Mark one of the others as the one that is shown, or none."""
        self.shown_other = index
        self.rebuild()

    def rebuild(self) -> None:
        names = [axis.name for axis in self.session.project.axes]
        if [plate.objectName() for plate in (*self.plates, *self.others)] != self._names():
            while self._box.count():
                item = self._box.takeAt(0)
                widget = item.widget() if item else None
                if widget is not None and widget is not self.plus:
                    widget.deleteLater()
            self.plates = [Plate(self.session, i) for i in range(len(names))]
            for plate in self.plates:
                plate.chosen.connect(self.chosen)
                self._box.addWidget(plate)
            self.others = [OtherPlate(self.session, i) for i in range(len(self.session.project.others))]
            for one in self.others:
                one.chosen.connect(self.other_chosen)
                self._box.addWidget(one)
            self._box.addWidget(self.plus)
            self._box.addStretch(1)
        for plate in self.plates:
            plate.aside = self.shown_other is not None
            plate.describe()
            plate.update()
        for one in self.others:
            one.here = one.index == self.shown_other
            one.update()
        self._fit()
