"""The fields of a stage and what follows from them: a set beside most leaves, and one of its own beside others, each kept."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QVBoxLayout

from urban_mule.desk.kit.field import Field
from urban_mule.desk.kit.one_line import OneLine
from urban_mule.desk.kit.results import ResultList
from urban_mule.desk.kit.text_field import TextField
from urban_mule.desk.stages.beside import Fields, given_of, path_of
from urban_mule.desk.stages.steps import BuiltInSteps

AT_ONCE = 3  # fields made in one turn of the event loop


class FieldSets(BuiltInSteps):
    """A stage as far as it asks and answers. shown_set: the leaf whose fields are shown; nothing: those beside most."""

    shown_set = ""
    fields: Fields
    know_heading: OneLine
    _kept: dict[str, tuple[Fields, ResultList]]
    _lacking: dict[str, list[tuple[tuple[str, str], ...]]]  # fields of a leaf that are still to be made

    def open_working(self, name: str) -> None:
        """Show the working of a result."""
        raise NotImplementedError

    def _fill_right(self) -> None:
        raise NotImplementedError

    least_left = 0  # px that the left side needs in any case, beside the results, where it is no grid of fields

    def result_list(self, rows: tuple[tuple[str, str], ...]) -> ResultList:
        """Results in rows; each opens its working here."""
        results = ResultList(self.session, rows)
        results.opened.connect(self.open_working)
        results.sifted.connect(self.lay)
        return results

    def _results(self) -> ResultList:
        return self.result_list(self.results_of(self.shown_set))

    def put_results(self, results: ResultList) -> None:
        """Lay other results on top, in place of those that are shown, which go."""
        former, self.results = self.results, results
        self._swap_results(former)
        former.deleteLater()

    def _swap_results(self, former: ResultList) -> None:
        layout = self.follows.layout()
        assert layout is not None
        layout.replaceWidget(former, self.results)
        former.hide()
        self.results.show()

    def lay(self) -> None:
        """Share the width out to fields and results."""
        raise NotImplementedError

    def fields_here(self) -> int:
        """How many fields stand in the grid of the leaf on top, those among them that are still to be made."""
        return len(self.fields.fields) + sum(len(names) for names in self._lacking.get(self.shown_set, ()))

    def fields_of(self, key: str) -> tuple[tuple[str, str], ...]:
        """The fields beside a leaf; key: its word where it has fields of its own, else nothing."""
        return self.spec.behind[key].fields if key else self.spec.fields

    def results_of(self, key: str) -> tuple[tuple[str, str], ...]:
        """The quantities that follow beside a leaf, and the checks that judge them."""
        return self.spec.behind[key].results if key else self.spec.results

    def build_fields(self, know: QVBoxLayout) -> None:
        """Put the fields of the stage in; those beside further leaves are made when they are first asked for, or ahead."""
        self.refill_fields()
        self.watch_leaves()

    def watch_leaves(self) -> None:
        """Have the fields of a leaf when it is turned to."""
        if self.spec.behind:
            self.leaves.turned.connect(lambda _word: self._turned())
            self.ahead += [partial(self._fill_ahead, key) for key in self.spec.behind]

    def _key(self) -> str:
        return self.leaves.word if self.leaves.word in self.spec.behind else ""

    def _set_for(self, key: str) -> tuple[Fields, ResultList]:
        """Fields and results of a leaf, to be filled a few at a time, since each of them costs; kept for the next time."""
        if key == self.shown_set:
            return self.fields, self.results
        if key not in self._kept:
            fields = Fields()
            fields.hide()
            self.know.insertWidget(self.know.indexOf(self.fields) + 1, fields)
            names = self.fields_of(key)
            self._lacking[key] = [names[first:first + AT_ONCE] for first in range(0, len(names), AT_ONCE)]
            self._kept[key] = fields, self.result_list(self.results_of(key))
        return self._kept[key]

    def _fill(self, key: str) -> bool:
        """Put the next few fields of a leaf in; whether more are to come."""
        fields, lacking = self._set_for(key)[0], self._lacking.get(key)
        if lacking:
            for part, name in lacking.pop(0):
                self.add_field(part, name, fields)
        return bool(lacking)

    def _fill_ahead(self, key: str) -> None:
        if self._fill(key):
            self.ahead.insert(0, partial(self._fill_ahead, key))

    def _go_on_filling(self) -> None:
        if self._fill(self.shown_set):
            self._filling.start()

    def _turned(self) -> None:
        """Lay the fields and results of the leaf on top; what is not made yet comes with the next turns of the event loop."""
        while self._fill_right in self._steps:  # somebody was quicker than the stage
            self.step()
        self._teach()
        key = self._key()
        if key == self.shown_set:
            return
        fields, results = self._set_for(key)
        del self._kept[key]
        self._kept[self.shown_set] = self.fields, self.results
        self.shown_set = key
        self.fields.hide()
        former = self.results
        self.fields, self.results = fields, results
        self._swap_results(former)
        fields.setVisible(bool(self.fields_of(key)))
        self._filling.start()
        self.lay()
        self._say()

    def _forget(self) -> None:
        """Let go of what is kept for other leaves: it belongs to another axis, or to another way of doing things."""
        for fields, results in self._kept.values():
            fields.empty()
            self.know.removeWidget(fields)
            fields.hide()
            fields.setParent(None)
            fields.deleteLater()
            results.deleteLater()
        self._kept.clear()
        self._lacking.clear()

    def add_field(self, part: str, name: str, to: Fields | None = None) -> None:
        """One field, where the given belongs to this kind of axis."""
        given = given_of(self.session, name, part)
        if given is not None:
            (to or self.fields).add(Field(self.session, path_of(self.session, part, name), given,
                                          hint=self.session.inherited(part, name) or "?"))

    def _complete(self) -> None:
        """Have all fields of the leaf on top."""
        while self._fill(self.shown_set):
            pass

    def refill(self) -> None:
        """Put the fields in anew, of all leaves, when other ones are asked for."""
        self._forget()
        shown = not self.fields.isHidden()
        self.fields.hide()  # else every field that comes lays the whole stage out again
        self.fields.empty()
        self.refill_fields()
        self.fields.setVisible(shown)

    def refill_fields(self) -> None:
        for part, name in self.fields_of(self.shown_set):
            self.add_field(part, name)

    def show_field(self, name: str, part: str = "") -> Field | TextField | None:
        """Turn to the leaf at which the field of a given stands, of a part if one is named; None where this stage has none."""
        for word in (self.leaves.word, *self.leaves.all_words):
            key = word if word in self.spec.behind else ""
            if self.spec.behind and not any(one == name and part in ("", of) for of, one in self.fields_of(key)):
                continue
            self.leaves.turn(word)
            self._complete()
            found = self.field(name, part)
            if found is not None and not self.fields.isHidden():
                found.show()  # at once, so that it can take the cursor: Qt shows what is new a little later
                return found
        return None

    def field(self, name: str, part: str = "") -> Field | TextField | None:
        """The field of a given on this stage, of a part of the axis or of the project if one is named."""
        return next((f for f in self.fields.fields if f.name == name and (
            part in ("", "axis") or ((part == "project") == (f.path[0] != "axes") and part in ("project", *f.path)))), None)
