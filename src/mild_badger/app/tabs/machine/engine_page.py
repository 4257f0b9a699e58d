"""The display engine's page: arrangement and drive right, the engine turning left."""

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import DocumentLineEdit, FieldForm, FieldSpec
from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.machine.engine_view import EngineView
from mild_badger.app.tabs.machine.in_space import FlatOrInSpace
from mild_badger.app.tabs.machine.turning import TurnBar
from mild_badger.app.theme.style import Theme
from mild_badger.core.driveline.assemble import DISPLAY as ENGINE
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.mechanisms.display.edits import (
    apply_engine,
    use_order,
    with_throws,
)
from mild_badger.core.mechanisms.display.engine import preset, presets
from mild_badger.core.mechanisms.display.model import DisplayEngine
from mild_badger.core.mechanisms.display.result import (
    DisplayResult,
    display_result,
    parse_angles,
    parse_order,
)
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.ratios.train import parse_train, train_text
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.words import signed, word

__all__ = ["EnginePage"]

DISPLAY = ("display_engine",)
FIELDS = (
    FieldSpec(
        (*DISPLAY, "layout"),
        choices=(
            ("inline", say("tab-machine.in-line")),
            ("flat", say("tab-machine.flat")),
            ("V", say("tab-machine.as-a-v")),
        ),
    ),
    FieldSpec((*DISPLAY, "bank_deg")),
    FieldSpec((*DISPLAY, "throw_mm")),
    FieldSpec((*DISPLAY, "rod_mm")),
    FieldSpec((*DISPLAY, "bore_mm")),
    FieldSpec((*DISPLAY, "pin_mm")),
    FieldSpec(
        (*DISPLAY, "drive"),
        choices=(
            ("motor", say("tab-machine.the-motor")),
            ("box output", say("tab-machine.the-box")),
        ),
    ),
)


class EnginePage(QWidget):
    """Nothing is computed here: the engine comes from core, the picture shows it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.mechanism = session, mechanism_on("engine")
        self.result: DisplayResult | None = None
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.view = EngineView(theme)
        flat = QWidget()
        lines = QVBoxLayout(flat)
        lines.setContentsMargins(0, 0, 0, 0)
        lines.addWidget(self.view, 1)
        self.turning = TurnBar(720, say("tab-machine.angle-of-the-crank"), self._rpm)
        self.turning.turned.connect(self.view.turn_to)
        lines.addWidget(self.turning)
        self.pictures = FlatOrInSpace(session, theme, flat, lambda: ENGINE)
        left.addWidget(self.pictures, 1)
        self.words = caption("", wrap=True)
        left.addWidget(self.words)
        outer.addLayout(left, 1)
        side = QWidget()
        side.setFixedWidth(286)
        right = QVBoxLayout(side)
        right.setContentsMargins(0, 0, 0, 0)
        right.setSpacing(6)
        self.presets = QComboBox()
        self.presets.setAccessibleName(say("tab-machine.known-arrangements"))
        self.presets.addItem(shown(say("tab-machine.a-known-arrangement")), "")
        for name in presets():
            self.presets.addItem(shown(word(name)), name)
        self.presets.activated.connect(lambda _n: self._preset())
        right.addWidget(self.presets)
        self.fields = FieldForm(session, FIELDS)
        right.addWidget(self.fields)
        grid = QGridLayout()
        grid.setVerticalSpacing(4)
        self.lines: dict[str, DocumentLineEdit] = {}
        rows: tuple[tuple[str, str, Callable[[str], bool]], ...] = (
            ("throws", say("tab-machine.throws-angles"), self._throws),
            ("order", say("tab-machine.firing-order"), self._order),
            ("made", say("tab-machine.throws-as-glued"), self._made),
            ("pairs", say("tab-machine.gears-to-the-crank"), self._pairs),
        )
        for number, (name, words, commit) in enumerate(rows):
            entry = DocumentLineEdit(session, commit, words)
            self.lines[name] = entry
            grid.addWidget(caption(words), number, 0)
            grid.addWidget(entry, number, 1)
        self.lines["pairs"].setPlaceholderText(say("tab-machine.none-or-8-24-12-20"))
        self.lines["made"].setPlaceholderText(say("tab-machine.measure-and-type-them"))
        right.addLayout(grid)
        self.even = button(say("tab-machine.use-the-smoothest-firing-order"), self._even)
        self.plan = button(say("tab-machine.add-display-engine"), self._plan, "main")
        self.drop = button(
            say("tab-machine.remove-display-engine"),
            lambda: session.do(self.mechanism.remove(session.vehicle)),
        )
        right.addLayout(row_of(self.even))
        right.addLayout(row_of(self.plan, self.drop))
        right.addStretch(1)
        outer.addWidget(side)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's display engine in the engaged gear."""
        vehicle = evaluation.vehicle
        self.result = display_result(vehicle, evaluation.gear_driven, evaluation.motor_rpm)
        engine = vehicle.display_engine
        for thing in (
            self.presets,
            self.fields,
            *self.lines.values(),
            self.even,
            self.drop,
            self.turning,
            self.pictures.in_space,
        ):
            thing.setEnabled(engine is not None)
        self.plan.setVisible(engine is None)
        self.drop.setVisible(engine is not None)
        if engine is not None:
            self.fields.show_values(vehicle)
            self._show_lines(engine)
        else:
            self.fields.clear_values()
            for line in self.lines.values():
                line.show_value("")
        self.view.show_engine(evaluation, self.result)
        self.pictures.refresh(evaluation)
        self.words.setText(self._words())

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.pistons-that-go-along-for-show-in-step-with")

    def _show_lines(self, engine: DisplayEngine) -> None:
        def listed(angles: tuple[float, ...]) -> str:
            return ", ".join(signed(angle, "g") for angle in angles)

        self.lines["throws"].show_value(listed(engine.throws_deg))
        self.lines["order"].show_value("-".join(map(str, engine.order)))
        self.lines["made"].show_value(listed(engine.made_deg))
        self.lines["pairs"].show_value(train_text(engine.pairs))

    def _words(self) -> str:
        result = self.result
        if result is None:
            return ""
        sentences = [result.summary, *(wrong.words for wrong in result.wrong)]
        if result.rpm is None:
            sentences.append(say("tab-machine.in-this-gear-nothing-drives-the-crank"))
        else:
            way = (
                say("tab-machine.as-the-motor")
                if result.rpm > 0
                else say("tab-machine.against-the-motor")
            )
            sentences.append(say("tab-machine.the-crank-turns-rpm", rpm=abs(result.rpm), way=way))
        return " ".join(sentences)

    def _engine(self) -> DisplayEngine:
        return self.session.vehicle.display_engine or DisplayEngine()

    def _plan(self) -> None:
        edit = self.mechanism.add(self.session.vehicle)
        if edit is not None:
            self.session.do(edit)

    def _preset(self) -> None:
        name = self.presets.currentData()
        if name:
            self.session.do(
                apply_engine(preset(self._engine(), name), say("tab-machine.take", name=name))
            )
        self.presets.setCurrentIndex(0)

    def _throws(self, text: str) -> bool:
        return self.session.do(
            with_throws(self._engine(), parse_angles(text, what=say("tab-machine.throws")))
        )

    def _made(self, text: str) -> bool:
        made = parse_angles(text, what=say("tab-machine.throws-as-glued-2"))
        return self.session.do(
            Edit.one(
                say("tab-machine.type-the-throws-as-glued"), ("display_engine", "made_deg"), made
            )
        )

    def _order(self, text: str) -> bool:
        return self.session.do(use_order(self._engine(), parse_order(text, self._engine())))

    def _pairs(self, text: str) -> bool:
        pairs = parse_train(text) if text.strip() else ()
        return self.session.do(
            Edit.one(say("tab-machine.gear-the-crank"), (*DISPLAY, "pairs"), pairs)
        )

    def _even(self) -> None:
        if self.result is not None:
            self.session.do(use_order(self.result.engine, self.result.best.order))

    def _rpm(self) -> float | None:
        return self.result.rpm if self.result is not None else None
