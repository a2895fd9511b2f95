"""The window: axes on the left, trail on top, the stage in the middle, the tag on the right."""

from __future__ import annotations

import re
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6 import sip
from PyQt6.QtCore import QSize, QTimer, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QVBoxLayout,
    QWidget,
)

from urban_mule.core.motor.printed import CURVES
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.desk.frame.file_work import FileWork
from urban_mule.desk.frame.menus import fill_menus
from urban_mule.desk.frame.new_axis import NewAxis
from urban_mule.desk.frame.notice import Notice
from urban_mule.desk.frame.other_stages import OtherStages
from urban_mule.desk.frame.plates import Plates
from urban_mule.desk.frame.tag import Tag
from urban_mule.desk.frame.telling import TellingWindow
from urban_mule.desk.frame.trail import HEIGHT, Trail
from urban_mule.desk.frame.waiting import WaitingLine
from urban_mule.desk.kit import theme as look
from urban_mule.desk.kit.painting import Label
from urban_mule.desk.kit.slip import OF_PROJECT
from urban_mule.desk.kit.stack import Stack
from urban_mule.desk.model import acts, memory
from urban_mule.desk.model.first import answering
from urban_mule.desk.model.session import Session
from urban_mule.desk.stages.beside import given_of
from urban_mule.desk.stages.brief.ways import nothing_begun
from urban_mule.desk.stages.registry import SPECS, make_stage, stage_of
from urban_mule.desk.stages.view import StageView

if TYPE_CHECKING:
    from urban_mule.desk.frame.tour import Stop, Tour

USUAL, FRAME = (1280, 800), 37  # px: the usual size, and what the frame around a window takes
BESIDE = 400  # ms after which the practice machine of a project comes up beside it
AT_LEAF: dict[str, tuple[StageName, str]] = {"parts_bought": ("Brief", "parts")}  # where what is no single field is given
LINK = re.compile(r"train\[(?P<place>\d+)\]\.(?P<field>\w+)")  # what a link lacks
PREPARE = 40  # ms between two parts of stages that are built ahead


class Window(TellingWindow):
    """One open project. opened: the path of another project that the user chose."""

    opened = pyqtSignal(object)
    recent: QMenu

    def __init__(self, session: Session, stage: StageName = "Brief") -> None:
        super().__init__()
        self.session = session
        self._take_size()
        self.setAcceptDrops(True)
        self.trail = Trail(session)
        self.plates = Plates(session)
        self.tag = Tag(session)
        self.stack = Stack()
        self._stages: dict[StageName, StageView] = {}
        self.others = OtherStages(session, self._attend)
        self.others.gone.connect(self.leave_other)
        self._to_prepare = list(STAGES)
        self._preparing = QTimer(self, singleShot=True, interval=PREPARE)
        self._preparing.timeout.connect(self.prepare)
        self.waiting, self.notice = WaitingLine(session.works), Notice()
        self.notice.followed.connect(self.show_stage)
        session.noted.connect(self.notice.say)
        self.tour: Tour | None = None
        self.files = FileWork(session, self, lambda: self.stage, self.waiting)
        self.project_name = Label(wordWrap=True)
        self.project_name.setFont(look.font(16, bold=True))
        self.saved = Label(objectName="label")
        self._lay_out()
        fill_menus(self)
        self.trail.chosen.connect(self.show_stage)
        self.plates.chosen.connect(self.show_axis)
        self.plates.other_chosen.connect(self.show_other)
        self.plates.add.connect(self.add_axis)
        self.tag.print_it.connect(self.files.print_tags)
        self.files.opened.connect(self.opened)
        self.files.readings.arrived.connect(self.show_stage)
        self.files.readings.note.connect(self._note)
        session.saved.connect(self._saved)
        session.failed.connect(self._failed)
        session.told.connect(self.tell)
        session.axis_changed.connect(self._title)
        session.axis_changed.connect(self._other_axis)
        session.changed.connect(self._tell_expected)
        self._axis_shown = session.index
        self._title()
        self._saved(session.revision)
        self._leaving = False
        self.show_stage(stage)
        if nothing_begun(session.project):
            QTimer.singleShot(0, self._begin_anew)
        if session.project.hidden is not None and not session.project.hidden.debriefed:
            QTimer.singleShot(BESIDE, self._beside)
        if session.saving.told_on_opening:
            QTimer.singleShot(0, lambda: self.tell(session.saving.told_on_opening))

    def _begin_anew(self) -> None:
        """The keys on the first of the ways to begin."""
        if QApplication.focusWidget() in (None, self, self.trail) or not self.isAncestorOf(QApplication.focusWidget()):
            self.stage.begin_here()

    def _beside(self) -> None:
        if self.isVisible():
            self.files.show_practice()

    def _take_size(self) -> None:
        """The size of the last time, else the usual one, never more than the free part of the screen bears."""
        screen = self.screen()
        nowhere = screen is None or QApplication.platformName() == "offscreen"  # it has no screen that a window could cover
        room = QSize(*USUAL) if nowhere or screen is None else screen.availableSize() - QSize(0, FRAME)
        self.setMinimumSize(QSize(1024, 720).boundedTo(room))
        self.resize(QSize(*(memory.window_size() or USUAL)).boundedTo(room).expandedTo(self.minimumSize()))

    def _lay_out(self) -> None:
        paper = QWidget(objectName="paper")
        self.outer = outer = QVBoxLayout(paper)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        top = QHBoxLayout()
        top.setContentsMargins(16, 4, 8, 0)
        words = QVBoxLayout()
        words.setSpacing(2)
        words.addStretch(1)
        words.addWidget(self.project_name)
        self.practice = Label("PRACTICE, made up", objectName="practice")
        words.addWidget(self.practice)
        words.addWidget(self.saved)
        words.addStretch(1)
        name = QWidget()
        name.setFixedSize(164, HEIGHT)
        name.setLayout(words)
        words.setContentsMargins(0, 0, 0, 0)
        top.addWidget(name)
        top.addWidget(self.trail, 1)
        outer.addLayout(top)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 4, 8, 4)
        middle.setSpacing(0)
        middle.addWidget(self.plates)
        middle.addWidget(self.stack, 1)
        middle.addWidget(self.tag)
        outer.addLayout(middle, 1)
        outer.addWidget(self.waiting)
        outer.addWidget(self.notice)
        self.setCentralWidget(paper)

    @property
    def stage(self) -> StageView:
        """The stage that is shown, all of it."""
        shown = self.stack.currentWidget()
        assert isinstance(shown, StageView)
        shown.finish()
        return shown

    def show_stage(self, name: StageName) -> None:
        """Open a stage; its view is made when it is first shown."""
        answering()
        scope = self.others.scope
        if scope is not None and name in scope.stages:
            self.stack.setCurrentWidget(self.others.view(name, self.stack))
        else:
            self.leave_other()
            self.stack.setCurrentWidget(self._view(name))
        self.trail.show_stage(name)

    def show_axis(self, index: int) -> None:
        """Show an axis, in place of a spindle too."""
        self.leave_other()
        self.session.show_axis(index)

    def _other_axis(self) -> None:
        """Whoever chose another axis wants to see it, and no spindle."""
        if self.session.index != self._axis_shown:
            self._axis_shown = self.session.index
            self.leave_other()

    def show_other(self, index: int) -> None:
        """Show a subject that is no axis, on the stage that is shown where it has that one."""
        scope = self.others.show(index)
        self.plates.show_other(index)
        self.trail.show_of(scope)
        self.tag.show_of(scope)
        self.show_stage(self.trail.stage if self.trail.stage in scope.stages else scope.stages[0])

    def leave_other(self) -> None:
        """Back to the axis that was shown."""
        if self.others.scope is None:
            return
        self.others.leave()
        self.plates.show_other(None)
        self.trail.show_of(self.session)
        self.tag.show_of(self.session)
        self.stack.setCurrentWidget(self._view(self.trail.stage))

    def add_spindle(self) -> None:
        self.show_other(acts.add_spindle(self.session))

    def duplicate_axis(self) -> None:
        acts.duplicate_axis(self.session)

    def remove_axis(self) -> None:
        why_not = acts.remove_shown(self.session, self.others.scope)
        if why_not:
            self.tell(why_not)

    def _view(self, name: StageName) -> StageView:
        if name not in self._stages:
            view = make_stage(self.session, name)
            self._attend(view)
            self._stages[name] = view
            self.stack.addWidget(view)
        return self._stages[name]

    def _attend(self, view: StageView) -> None:
        """Do what a stage asks for beyond itself."""
        view.slip.jump.connect(self.go_to_field)
        view.wanted.connect(lambda name: self._go_for(view, name))
        view.begun.connect(self.begin)
        view.measure_wanted.connect(self.begin_round)
        view.to_print.connect(self.files.print_sheet)
        view.plan_to_print.connect(self.files.print_plan)
        view.plan_to_program.connect(self.files.save_program)
        view.list_wanted.connect(self.show_readings)
        view.import_wanted.connect(self.files.readings.choose)
        view.readings_taken.connect(lambda kind: self.show_stage(reading_kinds()[kind].stage) if kind in reading_kinds() else None)

    def _note(self, sentence: str) -> None:
        """What became of a file, beside what takes readings."""
        if self.stage.measure is not None:
            self.stage.measure.tell(sentence)

    def _forget_hidden(self) -> None:
        """Let go of stages that nobody sees, except where something is under way or half typed; they are built again when they
        are shown, or ahead of it. Every widget there is would be dressed anew, which takes seconds.
        """
        for name, view in list(self._stages.items()):
            half_typed = any(line.isModified() for line in view.findChildren(QLineEdit))
            if view is not self.stage and view.round is None and not half_typed:
                view.stop()
                self.stack.removeWidget(self._stages.pop(name))
                sip.delete(view)
        self._to_prepare = list(STAGES)
        self._preparing.start()

    def prepare(self) -> None:
        """Build the stages nobody has opened yet, a part at a time while neither the window nor a worker has anything to do."""
        if not self._to_prepare:
            return
        name = self._to_prepare[0]
        if not self.session.works.busy and (name in self._stages or not self.session.state.tell_ahead(name)):
            if name in self._stages and not self._view(name).step_ahead():
                self._to_prepare.pop(0)
            self._view(name)
        self._preparing.start()

    def _go_for(self, view: StageView, name: str) -> None:
        """Go where a stage sends somebody for what it lacks."""
        self.go_to_field(name)
        if self.others.scope is None and self.trail.stage != view.spec.name:
            self.expect(view.spec.name)

    def begin_round(self, kind: str) -> None:
        """Begin a round of a kind, or go on with it, on the stage where such readings are taken."""
        self.show_stage(reading_kinds()[kind].stage)
        if self.stage.measure is not None:
            self.stage.measure.begin(kind)

    def go_to_field(self, name: str) -> None:
        """Show the stage that holds the field of a given, or where readings are taken, and put the cursor there."""
        kinds = {f"{kind.name}_reading": kind for kind in reading_kinds().values()}
        kinds["scale_reading"] = reading_kinds()["travel"]
        if name in kinds:
            self.show_stage(kinds[name].stage)
            if self.stage.measure is not None:
                self.stage.measure.begin_here()
            return
        if self.others.scope is not None:
            where = stage_of(self.others.scope.key, name)
            if where is not None:
                self.show_stage(where)
                self.stage.slip.close_slip()
                field = self.stage.show_field(name)
                if field is not None:
                    field.setFocus()
                return
        if name in AT_LEAF:
            stage, word = AT_LEAF[name]
            self.show_stage(stage)
            self.stage.leaves.turn(word)
            self.stage.begin_here()
            return
        if name == CURVES:  # a dialog on the Motor stage takes them
            self.show_stage("Motor")
            self.stage.follow_link(name)
            return
        link = LINK.match(name)
        if link is not None:
            self.show_stage("Load")
            self.stage.slip.close_slip()
            self.stage.begin_at(int(link["place"]), link["field"])
            return
        part = "project" if name.startswith(OF_PROJECT) else ""
        name = name.removeprefix(OF_PROJECT)
        specs = [spec for spec in SPECS.values() if any(given == name and part in ("", of) for of, given in spec.fields)]
        specs += [spec for spec in SPECS.values() if any(given == name and part in ("", of) for of, given in spec.all_fields)]
        if specs and given_of(self.session, name, part) is not None:
            self.show_stage(specs[0].name)
            self.stage.slip.close_slip()
            field = self.stage.show_field(name, part)
            if field is not None:
                field.setFocus()
            return
        self.show_stage("Load" if name == "train" else "Moves" if name.startswith("cycle") else self.trail.stage)
        self.stage.begin_here()

    def show_readings(self) -> None:
        """The list of all readings of the shown axis."""
        from urban_mule.desk.frame.readings_window import ReadingsWindow  # its tables are made when somebody looks

        ReadingsWindow(self.session, self).show()

    def add_axis(self) -> None:
        asked = NewAxis(self.session, self)
        asked.accepted.connect(self._go_on)
        asked.open()

    def begin(self, way: str) -> None:
        """Begin with an axis, the demo or a tour of it."""
        {"axis": self.add_axis, "demo": self.files.open_demo, "tour": self.files.open_tour}[way]()

    def _go_on(self) -> None:
        """To the drives that would do, where it is known what is to be moved; else the cursor to what is missing next."""
        solution, state = self.session.solution, self.session.state
        if all(solution.get(name) is not None for name in ("peak_load", "train_inertia", "travel_per_radian")):
            from urban_mule.desk.stages.motor.search_window import open_search  # its tables are made when somebody searches

            self.show_stage("Motor")
            open_search(self.session, self)
            return
        for name in (state.next_missing(self.trail.stage) or state.next_missing())[:1]:
            self.go_to_field(name)

    def step_axis(self, step: int) -> None:
        """The next plate or the former one: axes first, then the others."""
        axes, other = len(self.session.project.axes), self.others.index
        place = (self.session.index if other is None else axes + other) + step
        if 0 <= place < axes:
            self.show_axis(place)
        elif axes <= place < axes + len(self.session.project.others):
            self.show_other(place - axes)

    def other_units(self) -> None:
        self.session.edit(("unit_system",), "inch" if self.session.system == "metric" else "metric", "units shown")
        self.session.axis_changed.emit()

    def other_light(self) -> None:
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        self._forget_hidden()
        look.dress(app, look.LIGHT if look.theme.palette is look.NIGHT else look.NIGHT)
        self.session.axis_changed.emit()
        self.update()

    def turn_leaf(self, step: int) -> None:
        """Lay the next leaf of the stage on top, or the former one."""
        self.stage.leaves.turn_on(step)

    def show_guide(self, page: str) -> None:
        """A page of the guide in a window beside this one."""
        from urban_mule.desk.frame.guide import GuideWindow  # its text is read when somebody asks

        there = self.findChildren(GuideWindow)
        guide = there[0] if there else GuideWindow(page, self)
        guide.show_page("spindle" if self.others.scope is not None and page == self.trail.stage.lower() else page)
        guide.show()

    def begin_tour(self) -> None:
        """Lead through the demo, stop by stop."""
        if self.tour is None:
            from urban_mule.desk.frame.tour import Tour

            self.tour = Tour()
            self.outer.insertWidget(self.outer.indexOf(self.waiting), self.tour)
            self.tour.go.connect(self._come_to)
            self.tour.left.connect(self.tour.hide)
        self.tour.begin()

    def _come_to(self, stop: Stop) -> None:
        """Show a stop of the tour; what somebody has taken out of the demo meanwhile is passed by."""
        axes = [axis.name for axis in self.session.project.axes]
        others = [one.name for one in self.session.project.others]
        if stop.of in axes:
            self.show_axis(axes.index(stop.of))
        elif stop.of in others:
            self.show_other(others.index(stop.of))
        self.show_stage(stop.stage)
        if stop.leaf in self.stage.leaves.all_words:
            self.stage.leaves.turn(stop.leaf)

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        paths = [Path(url.toLocalFile()) for url in data.urls()] if data is not None else []
        if paths:
            QTimer.singleShot(0, lambda: self.files.take_files(paths))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.tag.fit(self.width())

    def closeEvent(self, event: QCloseEvent | None) -> None:
        typing = self.focusWidget()
        if typing is not None:
            typing.clearFocus()  # what stands in a field is taken, as on leaving it by Tab
        if self.session.saving.unsaved and not self._leaving and event is not None:
            self.session.saving.try_again()
            if self.session.saving.unsaved:
                event.ignore()
                self._offer(f"What was changed last is not in the file: {self.session.saving.unsaved}", "Stay here",
                            "Close, and lose it")
                return
        self._preparing.stop()
        if not self.isMaximized():
            memory.keep(window=[self.width(), self.height()])
        self.others.leave()
        for view in self._stages.values():
            view.stop()
        self.session.close()
        super().closeEvent(event)
