"""Picking a part of the library: a list to type into, its figures, and what taking it does to the axis."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QInputDialog,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.load.fall import brake_needed
from urban_mule.core.motor.shaft import BRAKE
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.units import show
from urban_mule.desk.kit.dialog import Dialog
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.words import label
from urban_mule.desk.shared.part_pictures import bring_pictures
from urban_mule.store.document.base import RENAMED
from urban_mule.store.document.made import LINK_MODELS, MOTOR_MODELS
from urban_mule.store.library.drives import REDUCTION_KEYS, driver_from, driver_part, parts_of
from urban_mule.store.library.parts import GIVENS, Part, add_parts, all_parts
from urban_mule.store.text_files import BadFile

COLUMNS = {
    "stepper": ("holding_torque", "rated_current", "phase_resistance", "phase_inductance", "rotor_inertia", "mass", "price"),
    "servo": ("rated_torque", "motor_peak_torque", "rated_speed", "rated_voltage", "rotor_inertia", "mass", "price"),
    "driver": ("current_limit", "voltage_limit", "current_entry", "interface_mode", "finest_microsteps", "price"),
    "brake": ("brake_torque", "brake_delay", "brake_inertia", "frame", "mass", "price"),
    "reduction": ("ratio", "efficiency", "rated_torque", "torsional_stiffness", "clearance", "frame", "price"),
}


OTHER_KIND = {"stepper": "servo", "servo": "stepper"}


class PickPart(Dialog):
    """A list of parts. Type to narrow it; Enter or a double click takes one."""

    def __init__(self, title: str, parts: tuple[Part, ...], columns: tuple[str, ...], system: str,
                 take: Callable[[Part], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(860, 520)
        self._parts, self._columns, self._system, self._take = parts, columns, system, take
        box = QVBoxLayout(self)
        box.setContentsMargins(20, 16, 20, 16)
        head = QHBoxLayout()
        head.addWidget(Label(title, objectName="heading"), 1)
        self.instead = QPushButton(objectName="plain", autoDefault=False)
        self.instead.hide()
        head.addWidget(self.instead)
        box.addLayout(head)
        self.filter = QLineEdit(placeholderText="type to narrow the list, such as 57 mm 8 leads", accessibleName="Narrow the list")
        self.filter.textChanged.connect(self._narrow)
        box.addWidget(self.filter)
        self.table = QTableWidget(0, 1 + len(columns), accessibleName=title)
        self.table.setHorizontalHeaderLabels(["part", *(label(name) for name in columns)])
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.table.setTabKeyNavigation(False)
        self.table.setShowGrid(False)
        self.table.itemDoubleClicked.connect(lambda _item: self.accept())
        self.table.verticalHeader().setVisible(False)
        self.table.horizontalHeader().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        box.addWidget(self.table, 1)
        self.fault = Label(objectName="wrong", wordWrap=True)
        box.addWidget(self.fault)
        row = QHBoxLayout()
        row.addStretch(1)
        no, yes = QPushButton("Cancel"), QPushButton("Take it", objectName="strong", default=True)
        no.clicked.connect(self.reject)
        yes.clicked.connect(self.accept)
        row.addWidget(no)
        row.addWidget(yes)
        box.addLayout(row)
        self._narrow("")

    def _narrow(self, text: str) -> None:
        words = text.lower().replace("mm", " ").split()
        self.shown = [part for part in self._parts  # by the beginnings of its words: 57 is no 0.457
                      if all(any(own.startswith(word) for own in part.name.lower().split()) for word in words)]
        self.table.setRowCount(len(self.shown))
        for row, part in enumerate(self.shown):
            texts = [part.name + ("  (own)" if part.own else ""), *(self._figure(part, name) for name in self._columns)]
            for column, said in enumerate(texts):
                item = QTableWidgetItem(said)
                if column:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(row, column, item)
        self.table.resizeColumnsToContents()
        if self.shown:
            self.table.selectRow(0)

    def _figure(self, part: Part, name: str) -> str:
        value, one = part.values.get(name), GIVENS[part.kind][name]
        return "" if value is None else str(value) if isinstance(value, str) else str(
            show(value, one.unit, self._system, 3, own=one.shown))

    def choose(self, name: str) -> None:
        """Select a part by its name."""
        self.table.selectRow(next(row for row, part in enumerate(self.shown) if part.name == name))

    def accept(self) -> None:
        row = self.table.currentRow()
        if not 0 <= row < len(self.shown):
            self.fault.setText("Choose a part in the list first.")
            return
        try:
            self._take(self.shown[row])
        except BadValue as why:
            self.fault.setText(str(why))
            return
        super().accept()


def _open(title: str, kinds: tuple[str, ...], session: Scope, take: Callable[[Part], object], parent: QWidget,
          order: Callable[[Part], Any] = lambda part: 0) -> PickPart | None:
    try:
        parts = tuple(sorted(parts_of(all_parts(), *kinds), key=order))
    except BadFile as why:
        session.failed.emit(str(why))
        return None
    dialog = PickPart(title, parts, COLUMNS[kinds[0]], session.system, take, parent)
    dialog.open()
    return dialog


def pick_brake(session: Scope, parent: QWidget) -> PickPart | None:
    """Fit a brake to the motor of the axis; of those that hold twice what falls the least of its frame is chosen first."""
    needed = brake_needed(float(session.solution.get("frictionless_static_torque") or 0.0))

    def take(part: Part) -> None:
        session.edit_all([(session.axis_path("motor", name), part.values.get(name)) for name in BRAKE],
                         f"{session.axis.name}: {part.name} fitted")

    dialog = _open("Fit a brake", ("brake",), session, take, parent, lambda part: part.values["brake_torque"])
    fits = [] if dialog is None else [part for part in dialog.shown if part.values["brake_torque"] >= needed]
    frame = getattr(session.axis.motor, "frame", None)
    flush = [part for part in fits if part.values.get("frame") == frame]
    if dialog is not None and fits:
        dialog.choose((flush or fits)[0].name)
    return dialog


def pick_reduction(session: Scope, place: int, parent: QWidget) -> PickPart | None:
    """Put a reduction or worm of the library in place of a link."""
    def take(part: Part) -> None:
        link = LINK_MODELS[part.kind].model_validate(
            {"kind": part.kind, **{key: part.values[key] for key in REDUCTION_KEYS if key in part.values}})
        train = session.axis.train or ()
        session.edit(session.axis_path("train"), (*train[:place], link, *train[place + 1:]), f"{session.axis.name}: {part.name}")

    return _open("A reduction from the library", ("reduction", "worm"), session, take, parent)


def pick_driver(session: Scope, parent: QWidget) -> PickPart | None:
    """Take a driver of the library; what is set on it for the axis stays as it is."""
    def take(part: Part) -> None:
        session.edit(session.axis_path("driver"), driver_from(part, session.axis.driver), f"{session.axis.name}: {part.name}")

    other = OTHER_KIND[session.axis.motor_kind]
    return _open("A driver from the library", ("driver",), session, take, parent, lambda part: (
        part.values.get("drives", "stepper") == other, part.values["current_limit"]))


def keep_driver(session: Scope, parent: QWidget) -> None:
    """Keep the driver of the shown axis among one's own parts, under a name that is asked for."""
    driver = session.axis.driver
    if driver is None:
        session.told.emit("There is no driver on this axis yet.")
        return

    def keep(name: str) -> None:
        try:
            add_parts((driver_part(name, driver, session.axis.motor_kind),))
            session.edit(session.axis_path("driver", "name"), name.strip())
        except (BadValue, BadFile) as why:
            session.told.emit(f"The driver is not kept: {why}".rstrip(".") + ".")
            return
        session.told.emit(f"{name.strip()} is kept among your own parts; File, Export my parts hands it on.")

    ask = QInputDialog(parent)
    ask.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    ask.setWindowTitle("Keep this driver")
    ask.setLabelText("Under which name?")
    ask.setTextValue(driver.name)
    ask.textValueSelected.connect(keep)
    ask.open()


def motor_from(part: Part, kept: Any) -> Any:
    """The motor of the document that a part makes; the brake of the former motor stays. Raises BadValue."""
    model = MOTOR_MODELS[part.kind]
    values = {RENAMED.get(key, key): value for key, value in part.row.items()}
    if part.values.get("figures_for"):
        values["wiring"] = part.values["figures_for"]
    brake = {name: getattr(kept, name, None) for name in BRAKE}
    return model.model_validate({"kind": part.kind, **brake, **{k: v for k, v in values.items() if k in model.model_fields}})


def pick_motor(session: Scope, kind: str, parent: QWidget) -> PickPart | None:
    """Take a motor of the library; kind: stepper or servo."""
    def take(part: Part) -> None:
        session.edit(session.axis_path("motor"), motor_from(part, session.axis.motor), f"{session.axis.name}: {part.name}")
        bring_pictures(session, session.axis.motor)

    dialog = _open(f"A {kind} from the library", (kind,), session, take, parent)
    if dialog is not None:
        other = OTHER_KIND[kind]
        dialog.instead.setText(f"Show {other}s")
        dialog.instead.show()
        dialog.instead.clicked.connect(dialog.reject)
        dialog.instead.clicked.connect(lambda: pick_motor(session, other, parent))
    return dialog
