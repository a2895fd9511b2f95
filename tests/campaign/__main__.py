"""The long campaign: `make campaign`, or `python -m tests.campaign kills 1000`."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

from tests.campaign.around import full_disks, hostile_lists, hostile_patterns, lying_devices, verify_only_looks
from tests.campaign.axes import random_axes
from tests.campaign.hostile import hostile_projects, hostile_texts
from tests.campaign.kills import kills
from tests.campaign.left import left_projects
from tests.campaign.projects import random_projects
from tests.campaign.user import random_user

LONG = {"kills": 1000, "projects": 500, "texts": 10_000, "whole": 5000, "left": 50,
        "patterns": 3000, "lists": 2000, "devices": 300, "disks": 6, "verify": 150, "user": 600, "axes": 2000}
RUN = {"kills": kills, "projects": hostile_projects, "texts": hostile_texts, "whole": random_projects, "left": left_projects,
       "patterns": hostile_patterns, "lists": hostile_lists, "devices": lying_devices, "disks": full_disks,
       "verify": verify_only_looks, "user": random_user, "axes": random_axes}


def main() -> None:
    home = tempfile.mkdtemp(prefix="campaign-")
    os.environ.update({f"XDG_{name}_HOME": home for name in ("CONFIG", "DATA", "STATE", "CACHE")})  # not the user's own
    wanted = sys.argv[1:2] or list(LONG)
    for name in wanted:
        count = int(sys.argv[2]) if len(sys.argv) > 2 else LONG[name]
        with tempfile.TemporaryDirectory() as folder:
            sys.stdout.write(f"{name}: {RUN[name](Path(folder), count, 1)}\n")
            sys.stdout.flush()


main()
