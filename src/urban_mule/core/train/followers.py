"""Two motors on one load: the follower must be set as its leader is."""

from __future__ import annotations

from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class Unlike:
    """One value in which a follower differs from its leader, both as people read them."""

    name: str
    leader: str
    follower: str

    def __str__(self) -> str:
        return f"{self.name} {self.follower} instead of {self.leader}"
