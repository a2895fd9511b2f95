"""The Brief stage: its headline is that of the leaf on top; beside the goals, what binds each, a link to what moves it."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from urban_mule.core.brief.safety import QUESTIONS
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.kit.links import Links
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.brief.decisions import DecisionsPicture
from urban_mule.desk.stages.brief.picture import GOALS
from urban_mule.desk.stages.spec import StageSpec
from urban_mule.desk.stages.view import StageView
from urban_mule.store.deciding import open_questions, path_of_decisions


class BriefStage(StageView):
    """Goals with the limit that binds each; decisions, parts and safety say their own headline."""

    def __init__(self, session: Scope, spec: StageSpec, parent: QWidget | None = None) -> None:
        self._led = False
        super().__init__(session, spec, parent)
        self.binding = Links("what binds", self)
        self.binding.hide()
        self.binding.chosen.connect(self.wanted)

    def build_fields(self, know: QVBoxLayout) -> None:
        super().build_fields(know)
        know.addWidget(self.binding)
        self.leaves.turned.connect(self._leaf_turned)
        self.session.book_changed.connect(self._say)
        self._bind()

    def refresh(self, names: object = None) -> None:
        super().refresh(names)
        self._bind()

    def _leaf_turned(self, word: str) -> None:
        picture = self.leaves.picture
        if isinstance(picture, DecisionsPicture) and not self._led:
            picture.go.connect(self.wanted)
            self._led = True
        self._say()
        self._bind()

    def _bind(self) -> None:
        """Name the least limit of each goal, whatever its value."""
        found = [(name, self.session.state.solution.get(reached)) for name, _, reached, _ in GOALS]
        links = tuple((reach.given, f"{name}: {reach.stage}") for name, reach in found if reach is not None)
        self.binding.show_links(links if self.leaves.word == "goals" else ())

    def verdicts_here(self) -> tuple[Verdict, ...]:
        """Of the leaf on top: decisions and safety judge nothing, parts only whether they fit."""
        found, word = super().verdicts_here(), self.leaves.word
        return () if word in ("decisions", "safety") else tuple(one for one in found if word != "parts" or one.check == "parts fit")

    def words(self, deciding: Verdict | None) -> tuple[str, str]:
        match self.leaves.word:
            case "decisions":
                return self._of_decisions()
            case "parts":
                nothing = "Parts to buy, from the axes", "Give shafts, bores and belts as on their papers: what meets is compared."
                return nothing if deciding is None else super().words(deciding)
            case "safety":
                waits = len(open_questions(self.session.project.safety or ()))
                said = f"{waits} of {len(QUESTIONS)} questions of safety are open." if waits else "Every question is answered."
                return said, "The answers are yours. They are no certificate."
        return super().words(deciding)

    def _of_decisions(self) -> tuple[str, str]:
        stands = path_of_decisions(self.session.project)
        written = sum(one.state == "written down" for one in stands)
        again = [one.decision.name for one in stands if one.state == "look again"]
        open_ = [one.decision.name for one in stands if one.state in ("open", "said by the project")]
        nxt = f"Look again at {', '.join(again)}: what came before is another now." if again else (
            f"Next on the path: {open_[0]}." if open_ else "Nothing is open.")
        return f"{written} of {len(stands)} decisions are written down.", nxt
