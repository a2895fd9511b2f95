"""What comes from around the file: patterns of listings, lists to buy, devices on a wire, files that are only to be looked at."""

from __future__ import annotations

import csv
import hashlib
import random
import shutil
import subprocess
import sys
import time
from contextlib import suppress
from functools import partial
from io import StringIO
from pathlib import Path

from urban_mule.bench.devices import DeviceError
from urban_mule.bench.wire.client import WireMachine
from urban_mule.bench.wire.listener import Heard
from urban_mule.bench.wire.messages import Message, message_in
from urban_mule.core.sheet.given import BadValue
from urban_mule.demo.courtyard import demo_project
from urban_mule.demo.kept import demo_at
from urban_mule.store.file.salvage import verify
from urban_mule.store.listing import Pattern, pattern_from, read_listing, taught
from urban_mule.store.settings import SettingRow
from urban_mule.store.shopping import as_csv, from_csv, shopping_list
from urban_mule.store.text_files import BadFile

LONGEST = 2.0  # s for any one of them: of its own where it only computes
SIGNS = "0123456789 .,-=:|[]{}xXyY§µ\t\"'"
HOLES = ("{axis}", "{number}", "{other}", "{…}", " ", "=", "1", "x", ":", ".")
WORDS = ("done", "busy", "refused", "sample", "packed", "0", "1", "2", "-5", "nan", "1e300", "1_0", "m", "rad", "machine", "X",
         "AAEA", "compact", "directions=xyz", "rate=1e9", "\u0663", "")
FULL = """
import resource, sys
from pathlib import Path
from urban_mule.desk.app import application
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.cards import card_html
from urban_mule.desk.out.machine import wall_html
from urban_mule.desk.out.printing import QPageLayout, print_html
from urban_mule.desk.out.report import write_report, write_tags
from urban_mule.store.exchange.csv_readings import export_csv
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.text_files import BadFile, write_whole
app, folder = application(), Path(sys.argv[1])
session = Session(ProjectFile.open(folder / "demo.mule"))
card, wall = card_html(session), wall_html(session)
across = QPageLayout.Orientation.Landscape
outputs = {
    "tags.pdf": lambda path: write_tags(session, path), "report.pdf": lambda path: write_report(session, path),
    "card.pdf": lambda path: print_html(card, path, across), "wall.pdf": lambda path: print_html(wall, path, across),
    "demo.json": lambda path: write_whole(path, export_project(session.project)),
    "readings.csv": lambda path: write_whole(path, export_csv(session.axis.readings[-1])),
    "copy.mule": lambda path: session.file.copy_to(path)}
resource.setrlimit(resource.RLIMIT_FSIZE, (int(sys.argv[2]),) * 2)
for name, write in outputs.items():
    try:
        write(folder / name)
        print(name, "written")
    except BadFile as why:
        print(name, "refused")
session.works.close()
"""


def hostile_patterns(_folder: Path, count: int, seed: int) -> str:
    """Patterns and lines made at random: each is read or refused, and at once."""
    rng, read = random.Random(seed), 0
    of, held = {axis: [SettingRow("microsteps", "", 1.0, ())] for axis in "XY"}, {"X": {"microsteps": ""}, "Y": {"microsteps": ""}}
    for n in range(count):
        lines = ["".join(rng.choices(SIGNS, k=rng.choice((10, 80, 2000)))) for _ in range(4)]
        begun = time.thread_time()
        with suppress(BadValue, BadFile):
            if rng.random() < 0.5:
                line = "".join(rng.choices(HOLES, k=rng.randint(1, 60)))
                pattern = pattern_from({"rules": [{"setting": "microsteps", "line": line}]}, "odd")
            else:
                pattern = Pattern("", (taught(lines, 0, rng.randrange(len(lines[0])), "microsteps", "X"),))
            read += len(read_listing(pattern, lines, of, held))
        assert time.thread_time() - begun < LONGEST, (n, lines)
    return f"{count} patterns, {read} numbers read"


def hostile_lists(_folder: Path, count: int, seed: int) -> str:
    """Lists of parts to buy, spoilt: taken, or one sentence; nothing that a spreadsheet would run goes out."""
    rng, project, taken = random.Random(seed), demo_project(), 0
    sound = as_csv(shopping_list(project))
    for n in range(count):
        text = list(sound)
        for _ in range(rng.choice((1, 3, 40))):
            text[rng.randrange(len(text))] = rng.choice((*SIGNS, "\n", "\0", "=", "∞", "9" * 400, ",,,,"))
        begun = time.thread_time()
        try:
            again = as_csv(shopping_list(from_csv("".join(text), project)))
            taken += 1
            assert not any(cell.startswith(("=", "@", "\t")) for row in csv.reader(StringIO(again)) for cell in row), (n, again)
        except BadFile as why:
            assert "\n" not in str(why) and "Traceback" not in str(why), why
        assert time.thread_time() - begun < LONGEST, n
    return f"{count} lists, {taken} taken"


class Lying:
    """A bench that answers whatever comes with words drawn at random, bears the right number more often than not, and is quick."""

    rate = 9600

    def __init__(self, rng: random.Random) -> None:
        self.rng, self.out = rng, b""

    def write(self, data: bytes) -> None:
        asked = message_in(data.decode("ascii", errors="replace").strip())
        number = asked.number if asked is not None else 1
        for _ in range(self.rng.choice((0, 1, 1, 1, 3, 200))):
            words = tuple(word for word in self.rng.choices(WORDS, k=self.rng.randint(1, 9)) if word.isascii() and word)
            first = ("done",) if self.rng.random() < 0.6 else ()
            line = Message(number + (self.rng.random() < 0.1), (*first, *words) or ("busy",)).line()
            self.out += line if self.rng.random() < 0.9 else self.rng.randbytes(self.rng.randint(1, 300))

    def read(self, size: int) -> bytes:
        if not self.out:
            time.sleep(0.0005)
        data, self.out = self.out[:size], self.out[size:]
        return data

    def close(self) -> None: ...


def lying_devices(_folder: Path, count: int, seed: int) -> str:
    """Benches that lie and indicators that never pause: a number, a record, or one sentence; nothing piles up."""
    rng, numbers, sentences = random.Random(seed), 0, 0
    for n in range(count):
        machine = WireMachine(Lying(rng), 0.004, 2)
        for act in (machine.hello, machine.read, machine.position, partial(machine.record, 0.02), machine.disable):
            begun = time.monotonic()
            try:
                act()
                numbers += 1
            except DeviceError as why:
                sentences += 1
                assert str(why) and "\n" not in str(why), why
            assert time.monotonic() - begun < LONGEST, n
        fast = Heard(0.6)
        for one in range(2000):
            fast.number(str(one))
        assert len(fast.taken()[0]) == 1
    return f"{count} benches, {numbers} answers taken, {sentences} sentences"


def full_disks(folder: Path, count: int, _seed: int) -> str:
    """Every kind of output onto a place that takes so many bytes: whole, or the former file and a sentence."""
    demo_at(folder / "demo.mule").close()
    written = refused = 0
    for limit in [int(300 * 4**n) for n in range(count)]:
        for name in ("tags.pdf", "report.pdf", "report.html", "card.pdf", "wall.pdf", "demo.json", "readings.csv"):
            (folder / name).write_text("former")
        (folder / "copy.mule").unlink(missing_ok=True)
        done = subprocess.run([sys.executable, "-c", FULL, str(folder), str(limit)], capture_output=True, text=True, check=False)
        assert done.returncode == 0, done.stderr[-600:]
        for line in done.stdout.splitlines():
            name, what = line.split()
            refused, written = refused + (what == "refused"), written + (what == "written")
            path = folder / name
            assert what == "written" or not path.exists() or path.read_text(errors="replace") == "former", (limit, line)
        left = [one.name for one in folder.iterdir() if one.name.startswith(".")]
        assert not left, left
    return f"{count} sizes of disk, {written} outputs written, {refused} refused and nothing torn"


def verify_only_looks(folder: Path, count: int, seed: int) -> str:
    """Sound and scratched files are read through, and not a byte of theirs nor a file beside them is another after it."""
    rng, sound, named = random.Random(seed), folder / "sound.mule", 0
    demo_at(sound).close()
    path = folder / "looked-at.mule"
    for n in range(count):
        shutil.copyfile(sound, path)
        if n:
            with path.open("rb+") as raw:
                raw.seek(rng.randrange(100, path.stat().st_size))
                raw.write(rng.randbytes(rng.choice((1, 40, 4096))))
        before = hashlib.sha256(path.read_bytes()).digest(), sorted(one.name for one in folder.iterdir())
        try:
            named += bool(verify(path))
        except BadFile:
            named += 1
        assert before == (hashlib.sha256(path.read_bytes()).digest(), sorted(one.name for one in folder.iterdir())), n
    return f"{count} files, {named} with a fault named, none changed"
