"""Differentials and driven axles: kinds, planets and what they bear, crown wheel sides."""

from functools import partial, reduce
from typing import Any

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from mild_badger.app.drawing.fields import FieldForm, FieldSpec, number_cell, tip_of
from mild_badger.app.drawing.records import Column, RecordTable
from mild_badger.app.drawing.tables import Cell, Table
from mild_badger.app.drawing.widgets import button, caption, fill, row_of, scrolled
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.scene.run_control import RunControl
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.axle.drive_view import DriveView
from mild_badger.app.theme.style import Theme
from mild_badger.core.axle.running import add_axle
from mild_badger.core.axle.strength import describe_strength, planet_limit_n, planet_loads
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import MM, N_MM, NEWTON, bare, in_n, in_n_mm
from mild_badger.core.message import say
from mild_badger.core.scene.camera import ViewName
from mild_badger.core.scene.stage import Stage, drive_line_stage
from mild_badger.core.vehicle.edit.change import Edit, Path
from mild_badger.core.vehicle.model import Differential, DrivenAxle, Vehicle
from mild_badger.core.words import capitalized, signed, word
from mild_badger.text.fields import parse_field

__all__ = ["AxleDrivePage"]

DIFF = ("differential",)
KINDS = (
    ("open", word("bevel")),
    ("planetary", say("tab-axle.planetary")),
    ("locked", say("tab-axle.solid-axle")),
    ("none", say("tab-axle.one-wheel")),
)
FIELDS = (
    FieldSpec((*DIFF, "kind"), choices=KINDS),
    FieldSpec((*DIFF, "planets")),
    FieldSpec((*DIFF, "side_teeth")),
    FieldSpec((*DIFF, "planet_teeth")),
    FieldSpec((*DIFF, "sun_teeth")),
    FieldSpec((*DIFF, "ring_teeth")),
    FieldSpec(
        (*DIFF, "driven_side"),
        choices=(("left", say("tab-axle.left")), ("right", say("tab-axle.right"))),
    ),
    FieldSpec((*DIFF, "tooth_limit_n"), optional=True, empty=say("tab-axle.estimate")),
    FieldSpec(("kit", "tooth_strength_mpa")),
)


def _typed(  # noqa: PLR0917 - the first three are bound, as a column calls it
    path: Path, title: str, number: bool, vehicle: Vehicle, row: int, text: str
) -> Edit:
    what = f"{vehicle.additional_axles[row].name}, {title}"
    value: object = text
    if number:
        value = parse_field(
            text, str(path[-1]), what=what, kit=vehicle.kit, choice=vehicle.shown_in
        )
    return Edit.one(say("tab-axle.change-a-driven-axle"), ("additional_axles", row, *path), value)


def _column(title: str, *path: str, number: bool = False) -> Column[DrivenAxle]:
    def cell(axle: DrivenAxle) -> Cell:
        value: Any = reduce(getattr, path, axle)
        return number_cell(value, path[-1]) if number else Cell(str(value))

    tip = tip_of(Differential if len(path) > 1 else DrivenAxle, path[-1])
    return Column(title, cell, partial(_typed, path, title, number), tip=tip)


AXLES = (
    _column(say("tab-axle.name"), "name"),
    _column(say("tab-axle.ahead", mm=MM), "ahead_mm", number=True),
    _column(say("tab-axle.pinion"), "pinion", number=True),
    _column(say("tab-axle.crown"), "crown", number=True),
    _column(say("tab-axle.crown-on"), "crown_side"),
    _column(say("tab-axle.pinion-from"), "pinion_from"),
    _column(say("tab-axle.kind"), "differential", "kind"),
    _column(say("tab-axle.centre"), "centre"),
)


LOOKS: list[tuple[str, ViewName]] = [
    (say("scene.from-a-corner"), "corner"),
    (say("scene.from-the-side"), "side"),
    (say("scene.from-above"), "above"),
    (say("scene.from-the-output"), "output"),
]
SIDE_PX, PLAN_PX, LOADS_PX, AXLES_PX = 284, 130, 150, 84


class AxleDrivePage(QWidget):
    """The axles in space large, further ones below; plan, fields and loads beside."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session, self.theme = session, theme
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(10)
        left = QVBoxLayout()
        left.setSpacing(6)
        self.space = SpaceView(theme)
        self.space.setAccessibleName(say("tab-axle.axles-in-space"))
        self.space.choose(session.part)
        self.space.chosen.connect(session.choose)
        self.space.asked.connect(lambda part, place: part_menu(session, part).popup(place))
        session.part_chosen.connect(self.space.choose)
        left.addWidget(self.space, 1)
        self.running = RunControl(self.space)
        self.looks = QComboBox()
        self.looks.setAccessibleName(shown(say("scene.looked-at")))
        fill(self.looks, LOOKS)
        self.looks.activated.connect(lambda _n: self.space.look_from(self.looks.currentData()))
        self.words = caption("", wrap=True)
        self.words.setAccessibleName(say("tab-axle.how-strong-the-differential-is"))
        left.addLayout(row_of(*self.running.widgets, self.looks))
        left.addWidget(self.words)
        self.axles = RecordTable(session, AXLES, say("tab-axle.further-driven-axles"))
        self.axles.header_right(1, 2, 3)
        self.axles.stretch(0)
        self.axles.setFixedHeight(AXLES_PX)
        self.add = button(say("tab-axle.add-an-axle"), self._add)
        self.remove = button(say("tab-axle.remove-axle"), self._remove)
        left.addLayout(
            row_of(caption(say("tab-axle.further-driven-axles"), "head"), self.add, self.remove)
        )
        left.addWidget(self.axles)
        outer.addLayout(left, 1)
        side = QVBoxLayout()
        side.setSpacing(6)
        self.view = DriveView(theme)
        self.view.setFixedSize(SIDE_PX, PLAN_PX)
        side.addWidget(self.view)
        self.fields = FieldForm(session, FIELDS)
        side.addWidget(scrolled(self.fields, SIDE_PX), 1)
        self.loads = Table(
            (
                say("tab-axle.gear-2"),
                say("tab-axle.at-stall", n_mm=N_MM),
                say("tab-axle.a-tooth", newton=NEWTON),
                say("tab-axle.limit"),
            ),
            say("tab-axle.planet-loads"),
        )
        self.loads.header_right(1, 2, 3)
        self.loads.stretch(3)
        self.loads.setFixedSize(SIDE_PX, LOADS_PX)
        side.addWidget(self.loads)
        outer.addLayout(side)

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the axles of a vehicle and what their planets carry."""
        vehicle = evaluation.vehicle
        self.view.show_evaluation(evaluation)
        situation = evaluation.situation
        stage: Stage | None = None
        try:
            stage = drive_line_stage(
                vehicle,
                situation.gear,
                situation.motor_rpm,
                situation.road,
                locked=situation.locked,
            )
        except InputError as error:
            self.space.empty = str(error)
        self.running.working_rpm = evaluation.motor_rpm
        self.running.enable(on=stage is not None)
        self.space.show_stage(evaluation, stage)
        data = {
            **vehicle.differential.model_dump(),
            **vehicle.kit.model_dump(include={"tooth_strength_mpa"}),
        }
        self.fields.show_values(vehicle, data)
        overall = evaluation.housing_ratios
        limit, _ = planet_limit_n(vehicle)
        bad = self.theme.tokens.bad
        self.loads.show_cells(
            [
                [
                    Cell(vehicle.gear_name(load.gear)),
                    Cell(bare(in_n_mm(load.torque_n_mm, 0)), right=True),
                    Cell(
                        bare(in_n(load.force_n, 0)), right=True, color=bad if load.clicks else None
                    ),
                    Cell(
                        "" if limit is None else f"{signed(load.share_percent(limit), '.0f')} %",
                        right=True,
                        color=bad if load.clicks else None,
                    ),
                ]
                for load in planet_loads(vehicle, overall)
            ]
        )
        self.words.setText(describe_strength(vehicle, overall))
        self.axles.show_records(vehicle.additional_axles)

    def facts(self) -> str:
        """Say which way every axle drives."""
        return say(
            "tab-axle.arrows-show-which-way-the-wheels-go-in-the",
            words=capitalized(self.view.words()),
        )

    def _add(self) -> None:
        self.session.do(add_axle(self.session.vehicle))

    def _remove(self) -> None:
        row, axles = self.axles.currentRow(), list(self.session.vehicle.additional_axles)
        if 0 <= row < len(axles):
            del axles[row]
            self.session.do(
                Edit.one(say("tab-axle.remove-a-driven-axle"), ("additional_axles",), axles)
            )
