"""On the road: a turn, a held or lifted wheel, the lock, and what the wheels do."""

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from mild_badger.app.drawing.fields import DocumentLineEdit
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption
from mild_badger.app.session import Session
from mild_badger.app.shown import shown, units_in_force
from mild_badger.app.tabs.axle.plan import AxlePlan
from mild_badger.app.theme.style import Theme
from mild_badger.core.axle.road_state import (
    HeldWheel,
    LiftedWheel,
    Straight,
    Turn,
    radius_of_steer,
    steer_of_radius,
)
from mild_badger.core.axle.rows import AxleRow
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, bare, in_mm
from mild_badger.core.message import say
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.shifting import Side
from mild_badger.core.words import signed
from mild_badger.text.fields import field_text, typed_length

__all__ = ["TurnPage"]

ROADS = (
    ("straight", say("tab-axle.straight-on")),
    (say("tab-axle.turn-left"), say("tab-axle.turn-left-2")),
    (say("tab-axle.turn-right"), say("tab-axle.turn-right-2")),
    (say("tab-axle.hold-left"), say("tab-axle.hold-left-2")),
    (say("tab-axle.hold-right"), say("tab-axle.hold-right-2")),
    (say("tab-axle.lift-left"), say("tab-axle.lift-left-2")),
    (say("tab-axle.lift-right"), say("tab-axle.lift-right-2")),
)
SLIDER_STEPS = 1000
DASH = "–"


class TurnPage(QWidget):
    """The plan, the road below it, the figures beside it."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        self._radius_mm = 900.0
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(6)
        row = QHBoxLayout()
        row.setSpacing(16)
        self.plan = AxlePlan(theme)
        row.addWidget(self.plan, 1)
        side = QVBoxLayout()
        side.setSpacing(4)
        side.addWidget(caption(say("tab-axle.road"), "head"))
        self._group = QButtonGroup(self)
        self.roads: dict[str, QPushButton] = {}
        choices = QGridLayout()
        choices.setSpacing(6)
        for key, name in ROADS:
            made = button(name, partial(self._choose, key))
            made.setCheckable(True)
            self._group.addButton(made)
            level, place = divmod(len(self.roads) + 1, 2)  # straight on has the first line alone
            choices.addWidget(made, level, place if level else 0, 1, 1 if level else 2)
            self.roads[key] = made
        side.addLayout(choices)
        self.lock = QCheckBox(shown(say("tab-axle.lock-closed")))
        self.lock.toggled.connect(self._locked)
        side.addWidget(self.lock)
        side.addSpacing(8)
        side.addWidget(caption(say("tab-axle.wheels"), "head"))
        self.table = Table(("", say("tab-axle.per-housing-turn"), "rpm"), say("tab-axle.wheels"))
        self.table.header_right(1, 2)
        self.table.stretch(0)
        self.table.setFixedSize(264, 112)
        side.addWidget(self.table)
        self.axles = Table(
            (say("tab-axle.axle"), say("tab-axle.slides-l-r"), say("tab-axle.planet-rpm")),
            say("tab-axle.driven-axles"),
        )
        self.axles.header_right(1, 2)
        self.axles.stretch(0)
        self.axles.setFixedWidth(264)
        self.axles.setMinimumHeight(56)
        side.addWidget(self.axles, 1)
        self.torque = caption("", "soft", wrap=True)
        self.torque.setAccessibleName(say("tab-axle.who-gets-the-torque"))
        self.torque.setFixedWidth(264)
        side.addWidget(self.torque)
        row.addLayout(side)
        outer.addLayout(row, 1)
        line = QHBoxLayout()
        line.addWidget(caption(say("tab-axle.turn-radius")))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setAccessibleName(say("tab-axle.turn-radius"))
        self.slider.setRange(0, SLIDER_STEPS)
        self.slider.valueChanged.connect(self._slid)
        line.addWidget(self.slider, 1)
        self.radius = DocumentLineEdit(
            session, self._typed, shown(say("tab-axle.turn-radius-in", mm=MM))
        )
        self.radius.measure = partial(field_text, field="radius_mm", choice=units_in_force())
        self.radius.setFixedWidth(72)
        line.addWidget(self.radius)
        line.addWidget(caption(say("tab-axle.or-steered", mm=MM), "soft"))
        self.steer = DocumentLineEdit(session, self._steered, say("tab-axle.mean-steering-angle"))
        self.steer.setFixedWidth(56)
        line.addWidget(self.steer)
        line.addWidget(caption("°", "soft"))
        outer.addLayout(line)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show an evaluation."""
        axle, situation = evaluation.axle, evaluation.situation
        self.plan.show_evaluation(evaluation)
        if isinstance(situation.road, Turn):
            self._radius_mm = situation.road.radius_mm
        self.roads[_key_of(situation.road)].setChecked(True)
        self.lock.blockSignals(True)
        self.lock.setChecked(situation.locked)
        kind = evaluation.vehicle.differential.kind
        self.lock.setEnabled(kind in ("open", "planetary"))
        self.lock.blockSignals(False)
        self.radius.show_value(signed(self._radius_mm, ".0f"))
        self.slider.blockSignals(True)
        self.slider.setValue(self._step_of(self._radius_mm))
        self.slider.blockSignals(False)
        self.steer.show_value(signed(steer_of_radius(evaluation.vehicle, self._radius_mm), ".1f"))
        self.torque.setText(axle.torque)
        self._fill_axles(axle.rows)
        rows = (
            (say("tab-axle.left-wheel"), axle.left_share, axle.left_rpm),
            (say("tab-axle.right-wheel"), axle.right_share, axle.right_rpm),
            (say("tab-axle.housing"), None if axle.stalls else 1, axle.housing_rpm),
        )
        cells = []
        for name, share, rpm in rows:
            open_word = "stalls" if axle.stalls else say("tab-axle.free")
            shown = open_word if share is None else signed(float(share), ".4f")
            speed = "–" if rpm is None else signed(rpm, ".1f")
            cells.append(
                (
                    Cell(name),
                    Cell(shown, right=True),
                    Cell(speed, right=True),
                )
            )
        self.table.show_cells(cells)

    def _fill_axles(self, rows: tuple[AxleRow, ...]) -> None:
        cells = []
        for row in rows:
            slip = DASH
            if row.slip_percent is not None:
                slip = " / ".join(signed(share, "+.1f") for share in row.slip_percent) + " %"
            spin = DASH if row.planet_rpm is None else signed(row.planet_rpm, ".0f")
            tip = ""
            if row.slide_mm is not None:
                tip = say(
                    "tab-axle.and-in-a-full-circle",
                    slide_mm=bare(in_mm(row.slide_mm[0], 0, sign=True)),
                    slide_mm_2=in_mm(row.slide_mm[1], 0, sign=True),
                )
            cells.append(
                (
                    Cell(row.name),
                    Cell(slip, right=True, tip=tip),
                    Cell(spin, right=True),
                )
            )
        self.axles.show_cells(cells)

    def facts(self) -> str:
        """Say what the turn asks of the tyres."""
        evaluation = self.session.evaluation
        axle, paths = evaluation.axle, evaluation.axle.paths
        if axle.stalls:
            return say("tab-axle.one-wheel-is-held-and-both-are-coupled")
        if paths is None:
            return say(
                "tab-axle.track-wheels-choose-a-turn-to-see-what-the",
                track_mm=in_mm(evaluation.vehicle.axle.track_mm),
                diameter_mm=in_mm(evaluation.vehicle.wheels.diameter_mm),
            )
        slide = (
            say(
                "tab-axle.each-tyre-slides-when-both-grip-alike",
                slide_each_percent=paths.slide_each_percent,
            )
            if paths.slide_each_percent
            else say("tab-axle.neither-tyre-slides")
        )
        return say(
            "tab-axle.the-tyres-roll-on-radii-of-and-their-paths",
            inner_radius_mm=paths.inner_radius_mm,
            outer_radius_mm=in_mm(paths.outer_radius_mm, 0),
            difference_percent=paths.difference_percent,
            per_circle_mm=in_mm(paths.per_circle_mm, 0),
            slide=slide,
        )

    def _choose(self, key: str) -> None:
        kind, _, name = key.partition(" ")
        side: Side = "left" if name == "left" else "right"
        try:
            if kind == "turn":
                self.session.drive(Turn(self._radius_mm, side))
            elif kind == "hold":
                self.session.drive(HeldWheel(side))
            elif kind == "lift":
                self.session.drive(LiftedWheel(side))
            else:
                self.session.drive(Straight())
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def _turn(self, radius_mm: float) -> None:
        road = self.session.situation.road
        towards: Side = road.towards if isinstance(road, Turn) else "left"
        turn = Turn(radius_mm, towards)
        self._radius_mm = radius_mm
        self.session.drive(turn)

    def _typed(self, text: str) -> bool:
        try:
            self._turn(typed_length(text, say("tab-axle.turn-radius"), self.session.vehicle))
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return False
        return True

    def _steered(self, text: str) -> bool:
        try:
            degrees = parse_number(text, what=say("tab-axle.mean-steering-angle"))
            self._turn(radius_of_steer(self.session.vehicle, degrees))
        except BadgerError as error:
            self.session.refused.emit(str(error))
            return False
        return True

    def _slid(self, step: int) -> None:
        self._turn(float(round(self._shortest() * (40.0 ** (step / SLIDER_STEPS)))))

    def _step_of(self, radius_mm: float) -> int:
        for step in range(SLIDER_STEPS + 1):
            if self._shortest() * (40.0 ** (step / SLIDER_STEPS)) >= radius_mm:
                return step
        return SLIDER_STEPS

    def _shortest(self) -> float:
        return self.session.vehicle.axle.track_mm / 2

    def _locked(self, closed: bool) -> None:
        self.session.lock(closed)


def _key_of(road: Straight | Turn | HeldWheel | LiftedWheel) -> str:
    match road:
        case Turn(_, towards):
            return say("tab-axle.turn", towards=towards)
        case HeldWheel(side):
            return say("tab-axle.hold", side=side)
        case LiftedWheel(side):
            return say("tab-axle.lift", side=side)
        case _:
            return "straight"
