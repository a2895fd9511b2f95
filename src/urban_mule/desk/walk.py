"""The demo walked from end to end without a display: a picture of every stage, the report, the open JSON, the tags."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QEventLoop, QTimer
from PyQt6.QtWidgets import QApplication

from urban_mule.core.sheet.stages import STAGES
from urban_mule.demo import COURTYARD
from urban_mule.demo.kept import demo_at
from urban_mule.desk.frame.window import USUAL, Window
from urban_mule.desk.model.session import Session
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.solve import open_solution
from urban_mule.store.text_files import as_json, write_whole


def settle(session: Session, most: int = 20_000) -> None:
    """Let the window finish what it began: workers, then drawing."""
    loop = QEventLoop()
    waited = 0
    while session.analysing and waited < most:
        QTimer.singleShot(10, loop.quit)
        loop.exec()
        waited += 10
    for _ in range(4):
        QApplication.processEvents()


def settle_sure(session: Session, most: int = 20_000) -> None:
    """The same until it is known how sure the numbers of the shown axis are."""
    settle(session, most)
    loop, waited = QEventLoop(), 0
    while (session.sure is None or session.sure.solution is not session.solution) and waited < most:
        QTimer.singleShot(20, loop.quit)
        loop.exec()
        waited += 20
    settle(session, most)


def walk_demo(out: Path, machine: str = COURTYARD) -> None:
    """Build a demo, walk every stage of X, and write what a person would take away into `out`."""
    from urban_mule.desk.out.report import write_report, write_tags

    out.mkdir(parents=True, exist_ok=True)
    path = out / f"{machine}.mule"
    for old in (path, path.with_suffix(".mule-wal"), path.with_suffix(".mule-shm")):
        old.unlink(missing_ok=True)
    window = Window(Session(demo_at(path, machine)))
    window.resize(*USUAL)
    session = window.session
    window.show()
    settle(session)
    for number, stage in enumerate(STAGES, start=1):
        window.show_stage(stage)
        window.stage.finish()
        settle(session)
        window.grab().save(str(out / f"{number:02}-{stage.lower()}.png"))
        for word in window.stage.leaves.all_words[1:]:
            window.stage.leaves.turn(word)
            settle(session)
            window.grab().save(str(out / f"{number:02}-{stage.lower()}-{word}.png"))
        window.stage.leaves.turn(window.stage.leaves.all_words[0])
    write_report(session, out / "report.pdf")
    write_tags(session, out / "tags.pdf")
    write_whole(out / f"{machine}.json", export_project(session.project))
    solved = {axis.name: open_solution(session.solution_of(axis)) for axis in session.project.axes}
    write_whole(out / "solved.json", as_json({"axes": solved}) + "\n")
    window.close()
