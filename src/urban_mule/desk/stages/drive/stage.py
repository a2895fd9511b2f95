"""The Drive stage: fields for the way in which the current is entered, banks, wiring, the library, and what is printed."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urban_mule.core.drive.current import way_of_entry
from urban_mule.core.drive.wiring import signal_words
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.flow import Flow
from urban_mule.desk.kit.slip import OF_PROJECT
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.stages.beside import Fields
from urban_mule.desk.stages.sharing import KNOWN
from urban_mule.desk.stages.view import StageView

SENSE = ("sense_resistance", "sense_resistance_extra")
OF_WAY = {  # what is asked of the way in which the current is entered
    "number": ("entry_is", "sense_resistance_entered", *SENSE),
    "trimmer": ("trimmer_gain", *SENSE),
    "register": ("full_scale_voltage", "register_steps", *SENSE),
    "switches": (),
}
OF_ANY_WAY = frozenset(name for names in OF_WAY.values() for name in names)
SELDOM = ("supply_headroom", "phase_current_factor", "driver_efficiency", "continuous_share", "voltage_drop")
TOGETHER = ("supply", "wiring")  # leaves whose verdict is one on all axes
BUTTONS = {  # what can be done at each leaf
    "current": ("library", "keep"),
    "cooling": ("library", "keep"),
    "switches": ("banks", "follower_banks", "library", "keep", "card"),
    "wiring": ("sheet",),
    "supply": ("seldom",),
    "microsteps": ("library",),
    "chopping": ("library",),
    "standstill": (),
    "checks": (),
}


class DriveStage(StageView):
    """What is set on the driver of the shown axis, and the supply of all."""

    def build_fields(self, know: QVBoxLayout) -> None:
        self.every_way = False  # whether the fields of other ways of entry are shown too, since somebody asked for one
        self.rest = False  # whether those fields of the supply are shown that are seldom changed
        self._way = self._entry()
        super().build_fields(know)
        self._steps.insert(0, self._make_tools)

    def tools_here(self) -> tuple[QWidget, ...]:
        return (self.tools,)

    def _make_tools(self) -> None:
        """The buttons of all leaves, in a step of their own."""
        self.buttons = {
            name: QPushButton(words, objectName="plain")
            for name, words in (
                ("banks", "Describe the switches…"),
                ("follower_banks", "Those of the follower…"),
                ("library", "Library…"),
                ("keep", "Keep this driver…"),
                ("seldom", "The rest of it"),
                ("card", "Print the card…"),
                ("sheet", "Print the wiring sheet…"),
            )
        }
        for button, action in zip(
            self.buttons.values(),
            (
                self.describe,
                self.describe_follower,
                self.pick,
                self.keep,
                self.turn_rest,
                partial(self.to_print.emit, "card"),
                partial(self.to_print.emit, "wiring"),
            ),
            strict=True,
        ):
            button.clicked.connect(action)
        self.tools = Flow.of(self.buttons.values())
        self.head.addWidget(self.tools)
        self.leaves.turned.connect(lambda _word: self._offer())
        self._offer()

    def _offer(self) -> None:
        offered = BUTTONS.get(self.leaves.word, ())
        for name, button in self.buttons.items():
            button.setVisible(name in offered and (name != "follower_banks" or self.session.axis.following is not None))
        self.tools.setVisible(bool(offered))
        driver = self.session.axis.driver
        named = driver is not None and driver.name and self.leaves.word not in TOGETHER
        self.know_heading.setText(driver.name if named and driver is not None else KNOWN)
        self.lay()

    def _entry(self) -> str:
        """How the current of the shown axis is entered."""
        driver = self.session.axis.driver
        return "number" if driver is None else way_of_entry(driver.current_entry, driver.core_banks)

    def fields_of(self, key: str) -> tuple[tuple[str, str], ...]:
        found = super().fields_of(key)
        if key == "supply":
            return tuple(one for one in found if (one[1] in SELDOM) == self.rest)
        if key or self.every_way:
            return found
        return tuple(one for one in found if one[1] not in OF_ANY_WAY or one[1] in OF_WAY[self._way])

    def add_field(self, part: str, name: str, to: Fields | None = None) -> None:
        if (part, name) == ("driver", "name"):
            path = self.session.axis_path("driver", "name")
            (to or self.fields).add(TextField(self.session, path, name, "Driver", hint="its name"))
            return
        if (part, name) == ("driver", "supply_voltage"):
            hint = self.session.inherited(part, name) or "?"
            path, given = self.session.axis_path(part, name), self.session.sheet.inputs[name]
            (to or self.fields).add(Field(self.session, path, given, name="Own supply", hint=hint))
            return
        if part != "terminals":
            super().add_field(part, name, to)
            return
        axis, fields = self.session.axis, to or self.fields
        steps = [("driver", "")] + ([("follower", "follower: ")] if axis.following is not None else [])
        for holder, whose in steps:
            path = self.session.axis_path(*(("follower", "driver") if holder == "follower" else ("driver",)), "terminals", name)
            fields.add(TextField(self.session, path, name, f"{whose}{signal_words(name)}".capitalize(), hint="terminal"))

    def further(self) -> tuple[Verdict, ...]:
        every = (*self.session.state.all_verdicts, *self.session.together_verdicts)
        return tuple(one for one in every if one.stage == self.spec.name)

    def whose(self, verdict: Verdict) -> str:
        return OF_PROJECT if any(one.check == verdict.check for one in self.session.together_verdicts) else ""

    def show_field(self, name: str, part: str = "") -> Field | TextField | None:
        """The field of a given; one of another way of entry is brought in."""
        if name in OF_ANY_WAY and name not in OF_WAY[self._way] and not self.every_way:
            self.every_way = True
            self.refill()
        of_supply = any(one == name and part in ("", of) for of, one in self.spec.behind["supply"].fields)
        if of_supply and (name in SELDOM) != self.rest:
            self.turn_rest()
        return super().show_field(name, part)

    def turn_rest(self) -> None:
        """Show the other fields of the supply: what is seldom changed, or what is asked first."""
        self.rest = not self.rest
        self.buttons["seldom"].setText("Back to the first of it" if self.rest else "The rest of it")
        self.refill()

    def rebuild(self) -> None:
        self.every_way, self._way = False, self._entry()
        super().rebuild()
        self._offer()

    def refresh(self, names: object = None) -> None:
        if self._way != self._entry():
            self._way = self._entry()
            self.refill()
        super().refresh(names)
        self._offer()

    def describe(self) -> None:
        """Describe the banks of the driver of the shown axis."""
        self._describe(("driver",), self.session.axis.name)

    def describe_follower(self) -> None:
        """Describe the banks of the follower's driver, where they are not the leader's."""
        self._describe(("follower", "driver"), f"{self.session.axis.name} follower")

    def _describe(self, holder: tuple[str, ...], whose: str) -> None:
        from urban_mule.desk.stages.drive.banks_window import BanksWindow  # its tables are made when somebody describes a bank

        BanksWindow(self.session, holder, whose, self).open()

    def pick(self) -> None:
        """Take a driver of the library."""
        from urban_mule.desk.shared.pick_part import pick_driver  # the library is read when somebody looks into it

        self.after(pick_driver(self.session, self))

    def keep(self) -> None:
        """Keep the driver of the shown axis among one's own parts."""
        from urban_mule.desk.shared.pick_part import keep_driver

        keep_driver(self.session, self)
