"""What the window does with files: projects, readings, parts, reports, pictures; every fault is one sentence."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QApplication, QFileDialog, QWidget

from urban_mule.core.sheet.given import BadValue
from urban_mule.demo import BRUSH
from urban_mule.desk.frame.readings_in import ReadingsIn
from urban_mule.desk.model.session import Session
from urban_mule.store.document.edit import edited
from urban_mule.store.exchange.open_json import export_project, read_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.listing import listing_file
from urban_mule.store.places import free_project, practice_projects
from urban_mule.store.text_files import BadFile, safe_name, write_whole

if TYPE_CHECKING:
    from urban_mule.desk.frame.waiting import WaitingLine
    from urban_mule.desk.stages.view import StageView
    from urban_mule.store.library.parts import Parts

LISTINGS = (".cfg", ".conf", ".ini", ".log", ".dump", ".settings")  # endings of what a controller lists
PROGRAM = "moves of a plan"  # the template by which the moves of a round go out
MOST_LINES = 12  # of refused rows that a message bears


class FileWork(QObject):
    """Reading and writing for one window; long work goes on in the background.

    shown: the stage that is shown. readings: what takes readings in. opened((open or new, path)): another project is wanted.
    """

    opened = pyqtSignal(object)

    def __init__(self, session: Session, window: QWidget, shown: Callable[[], StageView], waiting: WaitingLine) -> None:
        super().__init__(window)
        self.session, self.window, self.shown, self.waiting = session, window, shown, waiting
        self.readings = ReadingsIn(session, window, waiting)

    def new_project(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self.window, "New project", "machine.mule", "Urban Mule project (*.mule)")
        if name:
            self.opened.emit(("new", Path(name)))

    def open_project(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Open project", "", "Urban Mule project (*.mule)")
        if name:
            self.opened.emit(("open", Path(name)))

    def open_demo(self) -> None:
        self.opened.emit(("demo", Path()))

    def open_brush(self) -> None:
        self.opened.emit(("demo", Path(BRUSH)))

    def open_tour(self) -> None:
        self.opened.emit(("tour", Path()))

    def save_copy(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self.window, "Save a copy", "", "Urban Mule project (*.mule)")
        if name:
            self._try(lambda: self.session.file.copy_to(Path(name)))

    def save_elsewhere(self) -> None:
        """Go on in another file, with all there is, where the open one is gone or cannot be written."""
        name, _ = QFileDialog.getSaveFileName(self.window, "Save elsewhere", self.session.path.name, "Urban Mule project (*.mule)")
        if name:
            self._try(lambda: self.session.saving.move_to(Path(name)))

    def practise(self) -> None:
        """A copy of the project whose machine is made up, so that measuring can be practised; opened at once."""
        self._try(lambda: self.practice_copy(free_project(practice_projects(), f"{self.session.path.stem} practice")))

    def practice_copy(self, path: Path) -> None:
        """Make the practice project and open it; readings of the real machine stay where they are. Raises BadFile."""
        from urban_mule.practice.made import made_machines

        project = self.session.project
        axes = tuple(axis.model_copy(update={"readings": ()}) for axis in project.axes)
        bare = project.model_copy(update={"practice": True, "axes": axes, "machines": None, "hidden": None})
        ProjectFile.create(path, edited(bare, ("machines",), made_machines(bare, axes))).close()
        self.opened.emit(("open", path))

    def practise_hidden(self) -> None:
        """Choose a practice with hidden faults; its project is opened at once."""
        from urban_mule.desk.frame.practice_begin import PracticeBegin

        PracticeBegin(self.session, lambda path: self.opened.emit(("open", path)), self.window).show()

    def show_practice(self) -> None:
        """The practice machine beside the window, where this project has one with hidden faults."""
        if self.session.project.hidden is None:
            self.session.told.emit("Nothing is hidden in this project. File > Practice with hidden faults makes one where"
                                   " something is.")
            return
        from urban_mule.desk.frame.practice_window import PracticeWindow

        open_already = self.window.findChildren(PracticeWindow)
        (open_already[0] if open_already else PracticeWindow(self.session, self.window)).show()

    def show_templates(self) -> None:
        """The templates, filled with this project."""
        from urban_mule.desk.frame.templates_window import TemplatesWindow

        TemplatesWindow(self.session, self.window).show()

    def show_listing(self, text: str = "", name: str = "") -> None:
        """What a controller lists of its settings, to be read back."""
        from urban_mule.desk.frame.listing_window import ListingWindow

        ListingWindow(self.session, text, name, self.window).show()

    def _try(self, work: Callable[[], object]) -> None:
        try:
            work()
        except (BadFile, BadValue, OSError) as why:
            self.session.told.emit(str(why))

    def import_files(self) -> None:
        wanted = "Project or readings (*.json *.csv *.txt);;All files (*)"
        names, _ = QFileDialog.getOpenFileNames(self.window, "Import", "", wanted)
        self.take_files(map(Path, names))

    def take_files(self, paths: Iterable[Path]) -> None:
        """Take in dropped or chosen files: a project JSON replaces the document, tables add readings; both undoable."""
        tables = []
        for path in paths:
            if path.suffix == ".mule":
                self.opened.emit(("open", path))
            elif path.suffix.lower() in LISTINGS:
                self._read(path, lambda path=path: listing_file(path),
                           lambda text, path=path: self.show_listing(text, path.name))
            elif path.suffix == ".json":
                self._read(path, lambda path=path: read_project(path),
                           lambda project, path=path: self.session.replace(project, f"{path.name} imported"))
            else:
                tables.append(path)
        self.readings.take(tables, self.shown().spec.readings)

    def _read(self, path: Path, work: Callable[[], object], done: Callable[[Any], object]) -> None:
        """Read a file in the background; a fault is told and changes nothing."""
        self.waiting.run(path, self, lambda _progress: work(), done)

    def export_json(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self.window, "Export JSON", f"{self.session.path.stem}.json", "JSON (*.json)")
        if name:
            self._try(lambda: write_whole(Path(name), export_project(self.session.project)))

    def export_readings(self) -> None:
        from urban_mule.store.exchange.csv_readings import export_csv

        folder = QFileDialog.getExistingDirectory(self.window, "Export readings of this axis as CSV")
        linear = self.session.axis.motion == "linear"
        for number, reading in enumerate(self.session.axis.readings if folder else ()):
            path = Path(folder) / f"{safe_name(self.session.axis.name)}-{number + 1}-{reading.kind}.csv"
            self._try(lambda path=path, reading=reading: write_whole(path, export_csv(reading, linear)))

    def choose_parts(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self.window, "Import parts", "", "Parts (*.csv *.json);;All files (*)")
        if name:
            self.import_parts(Path(name))

    def import_parts(self, path: Path) -> None:
        """Take the good rows of a parts list into the user's own library, and say which rows were refused and why."""
        from urban_mule.store.library.parts import add_parts, read_parts

        def work() -> Any:
            read = read_parts(path)
            add_parts(read.parts)
            return read

        self._read(path, work, lambda read: self.session.told.emit(parts_taken(path.name, read)))

    def save_parts(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self.window, "Export my parts", "parts.csv", "CSV (*.csv);;JSON (*.json)")
        if name:
            self.export_parts(Path(name))

    def export_parts(self, path: Path) -> None:
        """Write the user's own parts to a file that others can import."""
        from urban_mule.store.library.parts import own_parts, write_parts

        self._try(lambda: write_parts(path, own_parts().parts))

    def write_report(self) -> None:
        from urban_mule.desk.out.report import begin_report

        name, _ = QFileDialog.getSaveFileName(self.window, "Report", f"{self.session.path.stem}.pdf", "PDF (*.pdf)")
        if name:
            begin_report(self.session, Path(name))

    def print_tags(self) -> None:
        from urban_mule.desk.out.report import begin_tags

        suggested = f"{self.session.path.stem}-tags.pdf"
        name, _ = QFileDialog.getSaveFileName(self.window, "Print the tags", suggested, "PDF (*.pdf)")
        if name:
            begin_tags(self.session, Path(name))

    def print_wall_card(self) -> None:
        """What the machine does and is set to, as a card for the wall beside it."""
        from urban_mule.desk.out.machine import begin_wall_card

        suggested = f"{self.session.path.stem}-card.pdf"
        name, _ = QFileDialog.getSaveFileName(self.window, "Print the machine card", suggested, "PDF (*.pdf)")
        if name:
            begin_wall_card(self.session, Path(name))

    def print_sheet(self, sheet: str) -> None:
        """Print a card of switches or a wiring sheet; sheet: card or wiring."""
        from urban_mule.desk.out.cards import begin_sheet

        suggested = f"{self.session.path.stem}-{sheet}.pdf"
        name, _ = QFileDialog.getSaveFileName(self.window, f"Print the {sheet}", suggested, "PDF (*.pdf)")
        if name:
            begin_sheet(self.session, sheet, Path(name))

    def print_plan(self, plan: object) -> None:
        """Print the plan of a round as a sheet with boxes."""
        from urban_mule.desk.out.cards import begin_plan

        name, _ = QFileDialog.getSaveFileName(self.window, "Print the plan", f"{self.session.path.stem}-plan.pdf", "PDF (*.pdf)")
        if name:
            begin_plan(self.session, plan, Path(name))

    def save_program(self, plan: object) -> None:
        """Write the moves of a plan as a program for a controller, by the user's own template of that name, else ours."""
        from urban_mule.desk.out.template_data import plan_data
        from urban_mule.store.templates.templates import fill, own_templates, shipped_templates

        asked: Any = plan
        kind, axis, name, steps, caution = asked
        path, _ = QFileDialog.getSaveFileName(self.window, "The moves as a program", f"{self.session.path.stem}-{kind}.txt",
                                              "Text (*.txt);;All files (*)")
        if path:
            template = {**shipped_templates(), **own_templates()}[PROGRAM]
            data = plan_data(name, kind, axis, steps, caution)
            self.session.works.run("the program of moves", self.session,
                                   lambda _progress: write_whole(Path(path), fill(template, data)),
                                   lambda _done: self.session.told.emit(f"{path}: it is written. Read it before it runs."))

    def copy_picture(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setPixmap(self.shown().picture.grab())

    def save_picture(self) -> None:
        suggested = f"{self.shown().spec.name}.svg"
        name, _ = QFileDialog.getSaveFileName(self.window, "Save picture", suggested, "SVG (*.svg);;PNG (*.png)")
        if name:
            self._try(lambda: save_picture(self.shown().picture, Path(name)))

    def copy_results(self) -> None:
        """The results of the stage as CSV in SI units."""
        lines = ["quantity,value,unit"]
        for row in self.shown().results.rows:
            solution = row.session.solution_with(row.name)  # of the axis, or of the spindle that is shown
            value = solution.get(row.name)
            lines.append(f"{row.name},{'' if value is None else repr(float(value))},{solution.sheet.unit(row.name)}")
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText("\n".join(lines) + "\n")


def parts_taken(file: str, read: Parts) -> str:
    """What came of a parts list, in a few sentences."""
    count = len(read.parts)
    said = [f"{file}: {count} part{'' if count == 1 else 's'} taken in."]
    for words, lines in (("refused", read.refused), ("taken, but look again", read.doubtful)):
        if lines:
            more = len(lines) - MOST_LINES
            said += [f"{len(lines)} {words}:", *lines[:MOST_LINES], *([f"and {more} more."] if more > 0 else [])]
    return "\n".join(said)


def save_picture(picture: QWidget, path: Path) -> None:
    """A picture as SVG, or as PNG. Raises BadFile."""
    write_whole(path if path.suffix else path.with_suffix(".png"), lambda fresh: _draw_into(picture, fresh))


def _draw_into(picture: QWidget, path: Path) -> None:
    if path.suffix.lower() == ".svg":
        from PyQt6.QtSvg import QSvgGenerator

        generator = QSvgGenerator()
        generator.setFileName(str(path))
        generator.setSize(picture.size())
        generator.setViewBox(picture.rect())
        painter = QPainter()
        if not painter.begin(generator):
            raise OSError("the picture cannot be drawn into it")
        picture.render(painter)
        painter.end()
    elif not picture.grab().save(str(path)):
        raise OSError("no picture can be written under such a name; .png and .svg can")


