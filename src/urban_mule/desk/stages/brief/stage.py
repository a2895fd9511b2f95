"""The Brief stage: its headline is that of the leaf on top; beside the goals, what binds each, a link to what moves it."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.links import Links
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.brief.decisions import DecisionsPicture
from urban_mule.desk.stages.brief.picture import GOALS, BriefPicture
from urban_mule.desk.stages.spec import StageSpec
from urban_mule.desk.stages.view import StageView


class BriefStage(StageView):
    """Goals with the limit that binds each; decisions, parts and safety say their own headline."""

    def __init__(self, session: Scope, spec: StageSpec, parent: QWidget | None = None) -> None:
        self._led = self._offered = False
        self._measures: set[str] = set()
        super().__init__(session, spec, parent)
        self.binding = Links("what binds", self)
        self.binding.hide()
        self.binding.chosen.connect(self.wanted)

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        know.addWidget(self.binding)
        self.session.book_changed.connect(self._say)
        self._bind()

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        self._bind()

    def _leaf_turned(self, word: str) -> None:
        super()._leaf_turned(word)
        picture = self.leaves.picture
        if isinstance(picture, DecisionsPicture) and not self._led:
            picture.go.connect(self.wanted)
            self._led = True
        if hasattr(picture, "measure_wanted") and word not in self._measures:
            picture.measure_wanted.connect(self.measure_wanted)
            self._measures.add(word)
        if isinstance(picture, BriefPicture) and not self._offered:
            picture.ways.begun.connect(self.begun)
            self._offered = True
        self._bind()

    def _say(self) -> Verdict | None:
        found = super()._say()
        picture = self.leaves.made
        if isinstance(picture, BriefPicture) and not picture.ways.isHidden():
            self.missing.show_links(())
        return found

    def begin_here(self) -> None:
        picture = self.leaves.picture
        if isinstance(picture, BriefPicture) and not picture.ways.isHidden():
            picture.ways.buttons["axis"].setFocus()
        else:
            super().begin_here()

    def _bind(self) -> None:
        """Name the least limit of each goal, whatever its value."""
        found = [(name, self.session.state.solution.get(reached)) for name, _, reached, _ in GOALS]
        links = tuple((reach.given, f"{name}: {reach.stage}") for name, reach in found if reach is not None)
        self.binding.show_links(links if self.leaves.word == "goals" else ())
