"""Files that go out: what breaks off before its end never takes the place of a whole one."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import pytest

from urban_mule.store.text_files import BadFile, write_whole

PRINTED = """
import resource, sys
from pathlib import Path
from PyQt6.QtGui import QPageLayout
from urban_mule.desk.app import application
from urban_mule.desk.out.printing import print_html
from urban_mule.store.text_files import BadFile
app = application()
resource.setrlimit(resource.RLIMIT_FSIZE, (6000, 6000))
try:
    print_html("<p>mosaic</p>" * 4000, Path(sys.argv[1]), QPageLayout.Orientation.Portrait)
except BadFile as why:
    print(why)
"""


@pytest.mark.parametrize("name", ["tags.pdf", "picture.svg", "picture.PNG"])
def test_a_file_that_broke_off_leaves_the_former_one(tmp_path: Path, name: str) -> None:
    path = tmp_path / name
    path.write_text("former")
    with pytest.raises(BadFile, match="broke off before its end"):
        write_whole(path, lambda fresh: fresh.write_bytes(b"half of it"))
    with pytest.raises(BadFile, match="cannot be written"):
        write_whole(path, lambda _fresh: None)
    assert path.read_text() == "former" and os.listdir(tmp_path) == [name]


def test_a_print_onto_a_full_disk_is_said_and_tears_nothing(tmp_path: Path) -> None:
    path = tmp_path / "card.pdf"
    path.write_text("former")
    done = subprocess.run([sys.executable, "-c", PRINTED, str(path)], env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
                          capture_output=True, text=True, check=False)
    assert "cannot be written" in done.stdout and path.read_text() == "former", done.stderr
    assert os.listdir(tmp_path) == ["card.pdf"]
