"""The outputs' page: a line for each in the picture, the chosen one's sizes right."""

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QVBoxLayout

from mild_badger.app.drawing.fields import DocumentLineEdit, FieldForm, FieldSpec
from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.widgets import button, caption, fill, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.machine.crane_view import CraneView
from mild_badger.app.tabs.machine.mechanism_page import MechanismPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.driveline.crane import crane_key
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM
from mild_badger.core.ids import OutputId
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.crane.describe import describe_crane, describe_output
from mild_badger.core.mechanisms.crane.edits import (
    ENDS,
    add_output,
    keep_step,
    remove_output,
    rename_output,
    set_adjusters,
    set_end,
    set_worm,
)
from mild_badger.core.mechanisms.crane.model import (
    BOX_OUTPUT,
    MOTOR_SHAFT,
    OWN_INPUT,
    Crane,
    CraneOutput,
    Ring,
    Spool,
)
from mild_badger.core.mechanisms.crane.outputs import output_index
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.ratios.train import parse_train, train_text
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.text.fields import lengths_text, parse_lengths

__all__ = ["CranePage"]

WORM_FIELDS = ("starts", "teeth", "mean_mm", "mu")
CARRIED_FIELDS = ("shaft_mm", "long_mm", "span_mm", "load_at_mm", "gear_at_mm")
NOT_TYPED = frozenset({"kind", "internal", "made_mm", "adjust_mm"})
"""Fields of an output's end that are chosen, or typed in lines of their own."""
NOBODY = say("tab-machine.no-other")


def fields_of(output: CraneOutput, path: Path) -> tuple[tuple[FieldSpec, ...], ...]:
    """List the fields of an output: its end's, its worm's, then what is left."""
    end = type(output.end)
    ends = [
        FieldSpec((*path, "end", name), owner=end)
        for name in end.model_fields
        if name not in NOT_TYPED
    ]
    if isinstance(output.end, Ring):
        inside = (
            ("false", say("tab-machine.outside-the-ring")),
            ("true", say("tab-machine.inside-the-ring")),
        )
        ends.append(FieldSpec((*path, "end", "internal"), owner=Ring, choices=inside))
    worm = WORM_FIELDS if output.worm is not None else ()
    rest = [FieldSpec((*path, "input_rpm"))] if output.source == OWN_INPUT else []
    rest += [FieldSpec((*path, "keys")), FieldSpec((*path, "coupled_after"))]
    if output.keeps is not None:
        rest.append(FieldSpec((*path, "share")))
    rest += [FieldSpec((*path, "carried", name)) for name in CARRIED_FIELDS]
    return tuple(ends), tuple(FieldSpec((*path, "worm", name)) for name in worm), tuple(rest)


class CranePage(MechanismPage):
    """An output is chosen in the picture; what it may be asked follows from what it is."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = CraneView(theme)
        self.selected = OutputId("")
        super().__init__(
            session,
            mechanism_on("crane"),
            self.view,
            (),
            scrolls=True,
            in_space=lambda: crane_key(self.selected),
        )
        self.view.chosen.connect(self._choose)
        self.more = QComboBox()
        self.more.setAccessibleName(say("tab-machine.add-an-output"))
        self.more.addItem(shown(say("tab-machine.add-an-output-2")), "")
        for kind, (words, _) in ENDS.items():
            self.more.addItem(shown(words), kind)
        self.more.activated.connect(lambda _n: self._add())
        self.right.addWidget(self.more)
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(4)
        self.right.addLayout(self._grid)
        self.name = self._entry(say("tab-machine.output-name"), self._rename)
        self.source = self._choice(say("tab-machine.driven-from"), lambda value: ("source", value))
        self.pairs = self._entry(say("tab-machine.gears"), self._pairs)
        self.pairs.setPlaceholderText(say("tab-machine.none-or-8-24-12-20"))
        self.kind = self._choice(say("tab-machine.moves-a"), None)
        for kind, (words, _) in ENDS.items():
            self.kind.addItem(shown(words), kind)
        self.loose = self._choice(
            say("tab-machine.inner-gears-turn-on"), lambda value: ("loose_on", value)
        )
        self.keeps = self._choice(
            say("tab-machine.keeps-pace-with"), lambda value: ("keeps", value)
        )
        self.made = self._entry(shown(say("tab-machine.drums-as-made", mm=MM)), self._drums)
        self.made.setPlaceholderText(say("tab-machine.all-alike"))
        self.adjust = self._entry(shown(say("tab-machine.adjusters", mm=MM)), self._adjusters)
        self.adjust.setPlaceholderText(say("tab-machine.all-at-0"))
        self.worm = QCheckBox(shown(say("tab-machine.a-worm-before-the-output-shaft")))
        self.worm.clicked.connect(self._worm)
        self.right.addWidget(self.worm)
        self.own: list[FieldForm] = []
        self._own_key: object = None
        self._own_place = QVBoxLayout()
        self.right.addLayout(self._own_place)
        self.step = button(say("tab-machine.take-the-nearest-gears"), self._step)
        self.ropes = button(say("tab-machine.set-the-ropes"), self._ropes)
        self.away = button(say("tab-machine.remove-output"), self._away)
        self.right.addLayout(row_of(self.step, self.ropes))
        self.right.addLayout(row_of(self.away))
        self.right.addWidget(caption(caution_of("lifting"), "soft", wrap=True))

    def _entry(self, words: str, commit: Callable[[str], bool]) -> DocumentLineEdit:
        made = DocumentLineEdit(self.session, commit, words)
        row = self._grid.rowCount()
        self._grid.addWidget(caption(words, wrap=True), row, 0)
        self._grid.addWidget(made, row, 1)
        return made

    def _choice(
        self, words: str, field: Callable[[object], tuple[str, object]] | None
    ) -> QComboBox:
        made = QComboBox()
        made.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        made.setAccessibleName(shown(words))
        row = self._grid.rowCount()
        line = Flow()
        line.addWidget(caption(words))
        line.addWidget(made, 1)
        self._grid.addLayout(line, row, 0, 1, 2)
        if field is None:
            made.activated.connect(lambda _n: self._end())
        else:
            made.activated.connect(lambda _n: self._set(*field(made.currentData() or None)))
        return made

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's outputs."""
        crane = evaluation.vehicle.crane
        ids = [output.id for output in crane.outputs] if crane is not None else []
        if self.selected not in ids:
            self.selected = ids[0] if ids else OutputId("")
        self.view.show_outputs(evaluation, self.selected)
        figures = self.view.figures()
        words = ""
        if crane is not None:
            sentences = (
                describe_output(evaluation.vehicle, figures, self.selected),
                describe_crane(evaluation.vehicle, figures),
            )
            words = "\n".join(part for part in sentences if part)
        self.show_planned(evaluation, words, planned=crane is not None)
        self.more.setVisible(crane is not None)
        output = crane.output(self.selected) if crane is not None else None
        for number in range(self._grid.count()):
            item = self._grid.itemAt(number)
            thing = item.widget() if item is not None else None
            if thing is not None:
                thing.setVisible(output is not None)
        for thing in (self.worm, self.away, self.step, self.ropes):
            thing.setVisible(output is not None)
        if crane is not None and output is not None:
            self._show_output(evaluation.vehicle, crane, output)
        for column in self.own:
            column.setVisible(output is not None)

    def _show_output(self, vehicle: Vehicle, crane: Crane, output: CraneOutput) -> None:
        others = [(one.name, one.id) for one in crane.outputs if one.id != output.id]
        inputs = [
            (say("tab-machine.the-motor"), MOTOR_SHAFT),
            (say("tab-machine.the-box"), BOX_OUTPUT),
            (say("tab-machine.a-separate-input"), OWN_INPUT),
        ]
        fill(
            self.source,
            [*inputs, *((say("tab-machine.shaft-of", name=name), one) for name, one in others)],
        )
        fill(
            self.loose,
            [
                (say("tab-machine.a-separate-shaft"), ""),
                *((say("tab-machine.s-shaft", name=name), one) for name, one in others),
            ],
        )
        fill(self.keeps, [(NOBODY, ""), *others])
        for box, value in (
            (self.source, output.source),
            (self.kind, output.end.kind),
            (self.loose, output.loose_on or ""),
            (self.keeps, output.keeps or ""),
        ):
            box.setCurrentIndex(box.findData(value))
        self.name.show_value(output.name)
        self.pairs.show_value(train_text(output.pairs))
        spool = output.end if isinstance(output.end, Spool) else None
        for entry, sizes in (
            (self.made, spool.made_mm if spool else ()),
            (self.adjust, spool.adjust_mm if spool else ()),
        ):
            entry.show_value(lengths_text(sizes, self.session.vehicle))
            entry.setEnabled(spool is not None)
        self.worm.setChecked(output.worm is not None)
        self.ropes.setEnabled(spool is not None and spool.ropes > 1)
        self.step.setEnabled(output.keeps is not None)
        at = output_index(crane, output.id)
        key = (
            at,
            output.end.kind,
            output.source == OWN_INPUT,
            output.worm is None,
            output.keeps is None,
        )
        if key != self._own_key:
            self._own_key = key
            for column in self.own:
                self._own_place.removeWidget(column)
                column.deleteLater()
            self.own = [
                FieldForm(self.session, fields)
                for fields in fields_of(output, ("crane", "outputs", at))
                if fields
            ]
            for column in self.own:
                self._own_place.addWidget(column)
        for column in self.own:
            column.show_values(vehicle)

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.slewing-rings-carriages-spools-legs-from-one")

    def _crane(self) -> Crane:
        return self.session.vehicle.crane or Crane()

    def _called(self) -> str:
        return self._crane().called(self.selected)

    def _path(self, *rest: str) -> Path:
        return ("crane", "outputs", output_index(self._crane(), self.selected), *rest)

    def choose_thing(self, where: tuple[str, ...]) -> None:
        """Choose the output that a finding concerns."""
        output = next((o for o in map(self._crane().output, where) if o is not None), None)
        if output is not None:
            self._choose(output.id)

    def _choose(self, identity: OutputId) -> None:
        self.selected = identity
        self.refresh(self.session.evaluation)

    def _set(self, field: str, value: object) -> None:
        self.session.do(
            Edit.one(
                say("tab-machine.set-of", replace=field.replace("_", " "), called=self._called()),
                self._path(field),
                value,
            )
        )
        self.refresh(self.session.evaluation)

    def _add(self) -> None:
        kind = self.more.currentData()
        self.more.setCurrentIndex(0)
        edit = add_output(self.session.vehicle, kind) if kind else None
        if edit is not None and self.session.do(edit):
            self._choose(self._crane().outputs[-1].id)

    def _rename(self, text: str) -> bool:
        return self.session.do(rename_output(self._crane(), self.selected, text.strip()))

    def _pairs(self, text: str) -> bool:
        pairs = parse_train(text) if text.strip() else ()
        return self.session.do(
            Edit.one(say("tab-machine.gear", called=self._called()), self._path("pairs"), pairs)
        )

    def _drums(self, text: str) -> bool:
        sizes = (
            parse_lengths(
                text, what=say("tab-machine.drums-as-made-2"), vehicle=self.session.vehicle
            )
            if text.strip()
            else ()
        )
        return self.session.do(
            Edit.one(say("tab-machine.note-the-drums"), self._path("end", "made_mm"), sizes)
        )

    def _adjusters(self, text: str) -> bool:
        sizes = (
            parse_lengths(text, what=say("tab-machine.adjusters-2"), vehicle=self.session.vehicle)
            if text.strip()
            else ()
        )
        return self.session.do(
            Edit.one(say("tab-machine.set-the-ropes"), self._path("end", "adjust_mm"), sizes)
        )

    def _end(self) -> None:
        self.session.do(set_end(self._crane(), self.selected, self.kind.currentData()))

    def _worm(self, on: bool) -> None:
        self.session.do(set_worm(self._crane(), self.selected, worm=on))

    def _step(self) -> None:
        output = self._crane().output(self.selected)
        edit = None
        if output is not None:
            edit = keep_step(self.session.vehicle, self.view.figures(), output)
        if edit is None:
            self.session.refused.emit(say("tab-machine.found-no-train-that-comes-nearer-to-that"))
        else:
            self.session.do(edit)

    def _ropes(self) -> None:
        self.session.do(set_adjusters(self._crane(), self.selected))

    def _away(self) -> None:
        self.session.do(remove_output(self.session.vehicle, self.selected))
