"""Projects opened one after the other: of those that are left nothing stays, neither widgets nor threads nor memory."""

from __future__ import annotations

import gc
import os
import random
import threading
from pathlib import Path

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QDialog

from urban_mule.core.sheet.stages import STAGES
from urban_mule.demo.kept import demo_at
from urban_mule.desk.app import Desk, application, give_back
from urban_mule.desk.walk import settle

GROWTH = 1.10  # of the last over the second


def left_projects(folder: Path, count: int, seed: int) -> str:
    """Open so many, look at every stage and some leaves and dialogs of each. Raises AssertionError for what grows."""
    app, desk, rng = application(), Desk(), random.Random(seed)
    widgets, memory, threads = list[int](), list[float](), list[int]()
    for n in range(count):
        window = desk.show(demo_at(folder / f"{n}.mule"))
        for stage in STAGES:
            window.show_stage(stage)
            window.stage.leaves.turn(rng.choice(window.stage.leaves.all_words))
        window.add_axis()
        window.show_readings()
        for dialog in window.findChildren(QDialog):
            dialog.close()
        window.show_stage("Brief")
        settle(window.session)
        app.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        gc.collect()
        give_back()
        widgets.append(len(app.allWidgets()))
        threads.append(threading.active_count())
        memory.append(float(Path("/proc/self/statm").read_text(encoding="ascii").split()[1]) * os.sysconf("SC_PAGE_SIZE"))
    window.close()
    assert widgets[-1] <= GROWTH * max(widgets[1:3]) and threads[-1] <= threads[1] + 1, (widgets, threads)
    assert memory[-1] <= GROWTH * memory[1], memory
    return f"{count} projects, {widgets[1]} to {widgets[-1]} widgets, memory {memory[1] / 1e6:.0f} to {memory[-1] / 1e6:.0f} MB"
