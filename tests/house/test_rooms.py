"""The house itself: every import written as text, the wheel, the contracts, one declaration for a kind of reading or a quantity."""

from __future__ import annotations

import ast
import re
import shutil
import subprocess
import sys
import textwrap
import zipfile
from collections.abc import Iterator
from importlib import import_module
from itertools import product
from pathlib import Path

import pytest
from tests.places import ROOT

from urban_mule.bench.sessions.kinds import PLAN_KINDS
from urban_mule.core import subjects
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet import units
from urban_mule.core.sheet.quantity import marked
from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.stages.registry import OF, SPECS
from urban_mule.store.document.base import RENAMED
from urban_mule.store.document.drivers import ControllerModel, DriverModel
from urban_mule.store.document.made import MOTOR_MODELS
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import READING_MODELS

SOURCE = ROOT / "src" / "urban_mule"


def test_every_import_written_as_text_leads_into_the_stages_own_room_or_a_shared_one() -> None:
    for name, spec in SPECS.items():
        for where in (spec.view, *(picture for _, picture in spec.leaves)):
            module, _, made = where.partition(":")
            assert hasattr(import_module(module), made), where
            own = f"urban_mule.desk.stages.{name.lower()}."
            assert module.startswith((own, "urban_mule.desk.shared.")) or module == "urban_mule.desk.stages.view", (name, where)
    assert tuple(SPECS) == STAGES
    for kind in subjects.KINDS.values():
        for module, _, made in (where.partition(":") for _, where in kind.records):
            assert hasattr(import_module(f"urban_mule.core.{module}"), made), (kind.name, made)
        assert tuple(OF.get(kind.key, ())) == kind.stages


def test_every_module_with_marks_is_on_some_sheet_and_no_check_stands_twice() -> None:
    listed = {module.__name__ for kind in subjects.KINDS.values() for module in subjects.modules_of(kind)}
    for path in (SOURCE / "core").rglob("*.py"):
        module = import_module(".".join(("urban_mule", *path.relative_to(SOURCE).with_suffix("").parts)).removesuffix(".__init__"))
        if any(marked([module], "__quantity__")) or any(marked([module], "__check__")):
            assert module.__name__ in listed, module.__name__
    for kind in subjects.KINDS:
        names = [rule.name for rule in subjects.sheet_of(kind).checks]
        assert len(names) == len(set(names))


def test_names_asked_for_as_text_are_on_some_sheet() -> None:
    """`solution.get("…")`, `solution["…"]` and the results of stages name what there is; a misspelt name raises at run time too."""
    known = set(subjects.labels())
    asked: set[str] = {name for spec in SPECS.values() for name, _ in spec.results}
    asking = (text for path in SOURCE.rglob("*.py") if "solution" in (text := path.read_text(encoding="utf-8")))
    for text in asking:
        for node in ast.walk(ast.parse(text)):
            match node:
                case ast.Call(ast.Attribute(owner, "get" | "find"), [ast.Constant(str(name)), *_]) if (
                        "solution" in ast.unparse(owner)):
                    asked.add(name)
                case ast.Subscript(owner, ast.Constant(str(name))) if ast.unparse(owner).endswith("solution"):
                    asked.add(name)
    assert len(asked) > 60 and asked <= known, asked - known
    with pytest.raises(KeyError, match="no quantity of any axis"):
        subjects.axis_sheet("linear", "stepper").solve().get("workingmargin")


ELSEWHERE = {  # given without a field of a stage: where it comes from instead
    "motor_count": "Brief, decisions", "measured_stiffness": "adopted from a reading",
    "brake_torque": "the brake from the library", "brake_delay": "the brake", "brake_inertia": "the brake"}


def test_what_is_given_can_be_kept_and_typed_and_what_is_read_has_its_place() -> None:
    """What is declared in the core and forgotten elsewhere would pass in silence: nobody could type it, file it or see it."""
    fields = {name for spec in SPECS.values() for _, name in spec.all_fields}
    keys = {key for part in (Axis, Project, DriverModel, ControllerModel, *MOTOR_MODELS.values()) for key in part.model_fields}
    for motion, motor in product(subjects.MOTIONS, subjects.MOTORS):
        for name, one in subjects.axis_sheet(motion, motor).inputs.items():
            key = RENAMED.get(name, name) if motor == "servo" else name
            assert one.structure or key in keys, f"{name} has no key in the document"
            assert one.structure or {name, key} & fields or name in ELSEWHERE, f"{name} has no field on any stage"
    for name, one in subjects.sheet_of("machine").inputs.items():
        assert one.structure or (name in Project.model_fields and name in fields), name
    turning = {name for spec in OF["spindles"].values() for _, name in spec.all_fields}
    assert {name for name, one in subjects.sheet_of("spindle").inputs.items() if not one.structure} <= turning
    for kind, declared in reading_kinds().items():
        assert kind in SPECS[declared.stage].readings, f"{kind} cannot be begun on {declared.stage}"
        for column in declared.columns:
            assert len(units.units_of(column.given.unit)) > (column.given.unit != ""), f"{column.name} has a unit that no CSV knows"
        assert kind in PLAN_KINDS, f"no round leads through {kind}"


def test_what_a_picture_needs_is_on_some_sheet() -> None:
    for where in (where for spec in (*SPECS.values(), *OF["spindles"].values()) for _, where in spec.leaves):
        module, _, name = where.partition(":")
        needs = getattr(import_module(module), name).needs
        assert needs <= {*subjects.labels(), "the revisions", "the log"}, where


def test_a_kind_of_reading_is_declared_once_and_everything_follows() -> None:
    assert set(READING_MODELS) == set(reading_kinds()) and {kind.stage for kind in reading_kinds().values()} <= set(STAGES)
    sheet = subjects.axis_sheet("linear", "servo")
    for name in reading_kinds():
        assert {f"{name}_reading", f"{name}_readings"} <= sheet.inputs.keys()
    schema = (ROOT / "docs" / "project.schema.json").read_text(encoding="utf-8")
    assert all(f'"const": "{name}"' in schema for name in reading_kinds())


ADDED_READING = '''
    """A tone of a belt span."""

    from __future__ import annotations

    from urban_mule.core.readings.kind import ReadingKind, column
    from urban_mule.core.sheet.record import record


    @record(frozen=True, eq=False, repr=False)
    class HumReading:
        """How high a span hums."""

        pitch_heard: float = column("Hz", "lowest tone", above=0)


    HUM = ReadingKind(name="hum", stage="Slack", words="a hum", record=HumReading)
'''
ADDED_QUANTITY = '''


@quantity("N", symbol="F_x", source="a test")
def doubled_pull(gravity_load: Reals) -> Reals:
    """Twice the weight; gravity_load [N]."""
    return 2 * gravity_load
'''
ADDED_CHECK = '''


@check("doubled pull", stage="Load")
def pull_is_small(doubled_pull: float) -> Verdict:
    """A judgement."""
    return Verdict("good", f"{doubled_pull:.3g} N.", "Nothing to do.")
'''
USES = """
from urban_mule.store.exchange import parse_project
from urban_mule.store.exchange.csv_readings import export_csv, parse_csv
from urban_mule.store.solve import open_solution, solve_axis
hum = parse_csv("pitch_heard [Hz]\\n88\\n")
assert hum.kind == "hum" and parse_csv(export_csv(hum)).pitch_heard == 88.0
raw = b'{"format": "urban-mule/1", "axes": [{"name": "Z", "moving_mass": 2, "incline": 1.5707963267948966,' \
      b' "readings": [{"kind": "hum", "pitch_heard": 90}]}]}'
project = parse_project(raw)
solution = solve_axis(project, project.axes[0])
found = open_solution(solution)
assert abs(found["quantities"]["doubled_pull"] - 39.2266) < 1e-9 and solution["hum_reading"].pitch_heard == 90
assert any(v["check"] == "doubled pull" and v["stage"] == "Load" for v in found["verdicts"])
"""


def test_adding_a_reading_a_quantity_and_a_check_touches_their_rooms_only(tmp_path: Path) -> None:
    """As the README says how to add: one file for a kind of reading, one function for a quantity, one for its check."""
    copy = tmp_path / "src"
    shutil.copytree(ROOT / "src", copy)
    core = copy / "urban_mule" / "core"
    (core / "readings" / "hum.py").write_text(textwrap.dedent(ADDED_READING).lstrip(), encoding="utf-8")
    for path, text in ((core / "load" / "linear.py", ADDED_QUANTITY), (core / "load" / "checks.py", ADDED_CHECK)):
        path.write_text(path.read_text(encoding="utf-8") + text, encoding="utf-8")
    run = subprocess.run([sys.executable, "-c", USES], env={"PYTHONPATH": str(copy), "PATH": ""}, capture_output=True, text=True,
                         check=False)
    assert run.returncode == 0, run.stderr


ADDED_LINK = '''


@record(frozen=True, kw_only=True, eq=False, repr=False)
class Capstan(Efficient):
    """A cable wound round a drum."""

    kind: ClassVar[str] = "capstan"
    turns_into_travel: ClassVar[bool] = True
    sizes: ClassVar[tuple[str, ...]] = ("bore",)
    wound: Reals = given("m", "D_w", "diameter on which the cable lies", above=0)

    @property
    def gain(self) -> Reals:
        return self.need("wound") / 2

    def mistakes(self) -> Iterator[Mistaken]:
        self.need("wound")
        yield from wrong_circumference("drum")


LINKS["capstan"] = Capstan
'''
RUNS_LINK = """
import sys
from pathlib import Path
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.solve import solve_axis
from urban_mule.store.shopping import shopping_list
from urban_mule.store.commissioning import station_stands
raw = b'{"format": "urban-mule/1", "axes": [{"name": "X", "moving_mass": 2, "train": [{"kind": "capstan", "wound": 0.02}],' \\
      b' "cycle": [{"distance": 0.1, "speed": 0.1, "acceleration": 1}], "driver": {"microsteps": 16},' \\
      b' "motor": {"kind": "stepper", "step_angle": 0.0314159265358979},' \\
      b' "readings": [{"kind": "travel", "commanded": 0.1, "measured": [0.2, 0.2], "gauge_uncertainty": 1e-5}]}]}'
project = parse_project(raw)
assert '"wound": 0.02' in export_project(project)
solution = solve_axis(project, project.axes[0])
assert abs(solution["travel_per_turn"] - 0.0628318) < 1e-6
assert "what a capstan makes of a turn is not exact" in solution.find("steps_fraction").reason, "not known, and not guessed"
suspects = solution["scale_suspects"]
assert any(one.setting == "drum" and one.really == "radius for diameter" for one in suspects), "the detective"
assert any(one.what == "capstan" and one.slot == "train 0" for one in shopping_list(project)), "the list of parts"
assert station_stands(project, project.axes[0], solution), "stations"
from urban_mule.desk.app import application
app = application()
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.store.file.project_file import ProjectFile
path = Path(sys.argv[1])
ProjectFile.create(path, project).close()
window = Window(Session(ProjectFile.open(path)), "Load")
window.show()
assert not window.grab().isNull()
window.stage.choose(0)
assert window.stage.show_field("wound") is not None, "it is asked for all it has"
window.show_stage("Scale")
assert not window.grab().isNull()
window.close()
"""


def test_adding_a_kind_of_link_is_a_record_and_no_more(tmp_path: Path) -> None:
    """A drum for a cable: what it says of itself is known everywhere, what it does not say is not known, and nothing is guessed."""
    copy = tmp_path / "src"
    shutil.copytree(ROOT / "src", copy)
    links = copy / "urban_mule" / "core" / "train" / "links.py"
    links.write_text(links.read_text(encoding="utf-8") + ADDED_LINK, encoding="utf-8")
    run = subprocess.run([sys.executable, "-c", RUNS_LINK, str(tmp_path / "drum.mule")], capture_output=True, text=True,
                         check=False, env={"PYTHONPATH": str(copy), "PATH": "",
                                           "QT_QPA_PLATFORM": "offscreen", "HOME": str(tmp_path)})
    assert run.returncode == 0, run.stderr


PUMP = {
    "core/pump/__init__.py": "",
    "core/pump/given.py": '''
        """A coolant pump."""

        from __future__ import annotations

        from urban_mule.core.sheet.given import Reals, given
        from urban_mule.core.sheet.record import record


        @record(frozen=True, kw_only=True, eq=False, repr=False)
        class Pump:
            """What is known of it."""

            flow: Reals = given("m³/s", "Q", "flow at the nozzle", above=0)
            head: Reals = given("Pa", "Δp", "pressure it works against", above=0)
    ''',
    "core/pump/power.py": '''
        """What it takes."""

        from __future__ import annotations

        from urban_mule.core.sheet.given import Reals
        from urban_mule.core.sheet.quantity import quantity
        from urban_mule.core.sheet.verdict import Verdict, check


        @quantity("W", symbol="P_h", source="flow times pressure")
        def hydraulic_power(flow: Reals, head: Reals) -> Reals:
            """Power in the water; flow [m³/s], head [Pa]."""
            return flow * head


        @check("pump power", stage="Motor")
        def pump_is_small(hydraulic_power: float, mains_voltage: float) -> Verdict:
            """A judgement that takes something of the project."""
            return Verdict("good", f"{hydraulic_power:.3g} W on {mains_voltage:g} V.", "Nothing to do.")
    ''',
    "desk/stages/pump/__init__.py": "",
    "desk/stages/pump/spec.py": '''
        """What stands on the stage of a coolant pump."""

        from urban_mule.desk.stages.spec import StageSpec, of

        SPECS = (StageSpec("Motor", (("checks", "urban_mule.desk.shared.verdicts:VerdictsPicture"),), of("axis", "flow", "head"),
                           (("hydraulic_power", "pump power"),), key="pumps"),)
    '''}
DECLARED = '''
    SubjectKind("pump", "pumps", "a pump", ("pump.power",), ((OWN, "pump.given:Pump"),), stages=("Motor",),
                takes=("mains_voltage",)),
    MACHINE, SPINDLE)}'''
RUNS = """
import json, sys
from pathlib import Path
from urban_mule.cli import solved
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.file.project_file import ProjectFile, Where
raw = b'{"format": "urban-mule/1", "mains_voltage": 230, "axes": [{"name": "X"}],' \\
      b' "pumps": [{"name": "P", "flow": 1e-4, "head": 2e5}]}'
project = parse_project(raw)
assert json.loads(export_project(project))["pumps"] == [{"name": "P", "flow": 1e-4, "head": 2e5}]
found = json.loads(solved(Path("x"), project, None, None))["pumps"]["P"]
assert abs(found["quantities"]["hydraulic_power"] - 20) < 1e-9 and "230 V" in found["verdicts"][0]["sentence"]
from urban_mule.desk.app import application
app = application()
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
path = Path(sys.argv[1])
ProjectFile.create(path, project).close()
window = Window(Session(ProjectFile.open(path)))
window.show()
window.show_other(0)
assert window.trail.stage == "Motor" and window.tag.letter.text() == "P" and window.plates.others[0].here
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
editor = window.stage.show_field("flow").editor
editor.clear()
QTest.keyClicks(editor, "0.0003 m³/s")
QTest.keyClick(editor, Qt.Key.Key_Return)
pump = window.session.project.pumps[0]
assert pump.flow == 3e-4 and window.others.scope.solution["hydraulic_power"] > 59
window.others.scope.hardware.put({"flow": 3e-4}, survives=True)
window.others.scope.write("It runs.")
window.session.edit(("pumps", 0, "name"), "Q")
assert window.session.entries()[-1].subject == pump.id and window.session.saving.names[pump.id] == "pump Q"
window.close()
again = ProjectFile.open(path)
assert again.project().pumps[0].id == pump.id and again.applied()[Where(pump.id, stored=True)]["flow"].value == 3e-4
again.close()
"""


def test_adding_a_kind_of_subject_takes_its_declaration_and_its_rooms(tmp_path: Path) -> None:
    """A coolant pump: sheet, document, `solve`, file, plate, stage, field, hardware and log follow from one declaration."""
    copy = tmp_path / "src"
    shutil.copytree(ROOT / "src", copy)
    for where, text in PUMP.items():
        path = copy / "urban_mule" / where
        path.parent.mkdir(exist_ok=True)
        path.write_text(textwrap.dedent(text).lstrip(), encoding="utf-8")
    declared = copy / "urban_mule" / "core" / "subjects.py"
    text = declared.read_text(encoding="utf-8")
    assert text.count("MACHINE, SPINDLE)}") == 1
    declared.write_text(text.replace("MACHINE, SPINDLE)}", DECLARED.lstrip("\n ")), encoding="utf-8")
    run = subprocess.run([sys.executable, "-c", RUNS, str(tmp_path / "pump.mule")], capture_output=True, text=True, check=False,
                         env={"PYTHONPATH": str(copy), "PATH": "", "QT_QPA_PLATFORM": "offscreen", "HOME": str(tmp_path)})
    assert run.returncode == 0, run.stderr
    touched = {str(one.relative_to(copy / "urban_mule")) for one in copy.rglob("*.py") if not (
        there := SOURCE / one.relative_to(copy / "urban_mule")).exists() or there.read_bytes() != one.read_bytes()}
    assert touched == {"core/subjects.py", *PUMP}


def test_the_contracts_break_when_a_line_is_in_the_wrong_room(tmp_path: Path) -> None:
    shutil.copytree(ROOT / "src", tmp_path / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    shutil.copy(ROOT / "pyproject.toml", tmp_path)
    wrong = (("core.load.fall", "core.motor.margin"), ("core.slack.reversal", "core.ring.modes"),
             ("store.document.parts", "store.file.changes"), ("bench.sessions.kinds", "bench.simulated.axis"),
             ("desk.kit.table", "desk.frame.window"), ("desk.stages.ring.stage", "desk.stages.slack.reversal"))
    for here, there in wrong:
        path = tmp_path / "src" / "urban_mule" / f"{here.replace('.', '/')}.py"
        path.write_text(f"{path.read_text(encoding='utf-8')}\nimport urban_mule.{there}\n", encoding="utf-8")
    said = linted(tmp_path)
    assert [one for one in wrong if f"urban_mule.{one[0]} -> urban_mule.{one[1]} " not in said] == []
    (tmp_path / "src" / "urban_mule" / "desk" / "attic").mkdir()
    (tmp_path / "src" / "urban_mule" / "desk" / "attic" / "__init__.py").touch()
    assert "attic" in linted(tmp_path), "a room that nobody declared"


def linted(folder: Path) -> str:
    """What is said of imports that are not as they may be."""
    run = subprocess.run([str(Path(sys.executable).parent / "lint-imports"), "--no-cache"], cwd=folder, capture_output=True,
                         text=True, env={"PYTHONPATH": str(folder / "src"), "PATH": ""}, check=False)
    assert run.returncode != 0
    return f"{run.stdout}{run.stderr}"


def test_the_model_of_the_desk_knows_no_widget() -> None:
    for path in (SOURCE / "desk" / "model").glob("*.py"):
        for line in path.read_text(encoding="utf-8").splitlines():
            found = re.match(r"\s*from PyQt6\.(\w+) import (.*)", line)
            if found:
                undo = set(found[2].strip().split(", ")) <= {"QUndoCommand", "QUndoStack"}
                assert found[1] == "QtCore" or undo, (path.name, line)


@pytest.mark.long  # as its packages are
def test_the_wheel_holds_fonts_styles_templates_and_parts(tmp_path: Path) -> None:
    """Built as a user would get it; the editable install of the workshop would hide a missing file."""
    shutil.copytree(ROOT / "src", tmp_path / "here" / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, tmp_path / "here")
    built = subprocess.run([sys.executable, "-m", "pip", "wheel", "--quiet", "--no-deps", "--no-build-isolation", "--no-index",
                            "--wheel-dir", str(tmp_path), str(tmp_path / "here")], capture_output=True, text=True, check=False)
    assert built.returncode == 0, built.stderr
    wheel = next(tmp_path.glob("*.whl"))
    with zipfile.ZipFile(wheel) as whole:
        whole.extractall(tmp_path / "fresh")
    code = ("import os; os.environ['QT_QPA_PLATFORM'] = 'offscreen'\nfrom urban_mule.desk.app import application\n"
            "app = application()\nfrom urban_mule.store.library.parts import shipped_parts\nassert len(shipped_parts()) > 150\n"
            "from importlib import resources\nr = resources.files('urban_mule.desk.resources')\n"
            "for name in ('style.qss', 'arrow.svg', 'report/report.html', 'report/tags.html', 'fonts/OFL-B612.txt'):\n"
            "    assert r.joinpath(name).is_file(), name\nfrom PyQt6.QtGui import QFontDatabase\n"
            "assert 'B612' in QFontDatabase.families()\nimport urban_mule; print(urban_mule.__file__)\n")
    env = {"PYTHONPATH": str(tmp_path / "fresh"), "PATH": "", "HOME": str(tmp_path)}
    run = subprocess.run([sys.executable, "-c", code], env=env, capture_output=True, text=True, check=False)
    assert run.returncode == 0 and str(tmp_path / "fresh") in run.stdout, run.stderr


def test_public_functions_say_what_they_raise() -> None:
    silent = []
    for path in sorted(SOURCE.rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        for holder in (tree, *(one for one in tree.body if isinstance(one, ast.ClassDef))):
            for one in holder.body:
                if isinstance(one, ast.FunctionDef) and not one.name.startswith("_"):
                    said = ast.get_docstring(one) or ""
                    silent += [f"{path.name} {one.name}: {name}" for name in raised(one.body) if name not in said]
    assert [one for one in silent if "exact_turn" not in one] == []  # of a link: the base class says it for all


def raised(body: list[ast.stmt]) -> Iterator[str]:
    """The names of what these statements raise and do not catch again; not what a function inside raises."""
    for one in body:
        if isinstance(one, ast.Raise) and isinstance(one.exc, ast.Call) and isinstance(one.exc.func, ast.Name):
            if one.exc.func.id != "NotImplementedError":
                yield one.exc.func.id
        elif isinstance(one, ast.Try):
            for inner in (one.orelse, one.finalbody, *(handler.body for handler in one.handlers)):
                yield from raised(inner)
        elif not isinstance(one, ast.FunctionDef):
            for name in ("body", "orelse"):
                yield from raised(getattr(one, name, []))
