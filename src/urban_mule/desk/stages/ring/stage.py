"""The Ring stage: the causes lead to their rounds."""

from __future__ import annotations

from urban_mule.desk.stages.ring.causes import HumpCauses
from urban_mule.desk.stages.view import StageView


class RingStage(StageView):
    """The anatomy of every stage; a cause of a hump begins the round that tells it."""

    _joined = False

    def _leaf_turned(self, word: str) -> None:
        super()._leaf_turned(word)
        picture = self.leaves.picture
        if isinstance(picture, HumpCauses) and not self._joined:
            picture.round_wanted.connect(self.open_round)
            self._joined = True
