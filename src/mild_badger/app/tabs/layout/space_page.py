"""The box in space: run, turned by hand, shifted, cut open, drawn apart."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QSlider, QVBoxLayout, QWidget

from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.widgets import button, caption, fill
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.scene.parts_canvas import WALLS
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.components.component import Component
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.performance.power import body_torques
from mild_badger.core.scene.camera import VIEWS, ViewName
from mild_badger.core.scene.stage import stage_of
from mild_badger.core.workshop.assembly import assembly_plan
from mild_badger.core.workshop.ways_in import apart_moves

__all__ = ["SpacePage"]

VIEW_WORDS: dict[ViewName, str] = {
    "corner": say("scene.from-a-corner"),
    "input": say("scene.from-the-input"),
    "side": say("scene.from-the-side"),
    "above": say("scene.from-above"),
    "output": say("scene.from-the-output"),
    "seat": say("scene.from-the-drivers-seat"),
}
SECTIONS: dict[str, tuple[str, int, int]] = {
    "": (say("scene.not-cut-open"), 0, 1),
    "right": (say("scene.cut-from-the-right"), 0, 1),
    "above": (say("scene.cut-from-above"), 1, 1),
    "input": (say("scene.cut-from-the-input"), 2, 1),
}
"""What each section leaves out: its words, its axis, its sign."""
SLOWEST, STEPS = 0.002, 100
"""The slowest share of the motor's own speed, and the slider's steps."""


class SpacePage(QWidget):
    """The picture in space with what it is looked at by.

    Signals
    -------
    pictures_wanted : the picture to be saved, by name
    """

    pictures_wanted = pyqtSignal(object)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = SpaceView(theme)
        self.view.chosen.connect(session.choose)
        self.view.asked.connect(
            lambda part, place: part_menu(session, part, self._take_off).popup(place)
        )
        self.view.choose(session.part)
        session.part_chosen.connect(self.view.choose)
        self.run = button(say("scene.run"), self._run, "main")
        self.speed = self._slider(say("scene.speed-of-the-motor"), STEPS // 3)
        self.speed.valueChanged.connect(lambda _n: self._keep_running())
        self.play = button(
            say("scene.play-the-run"), lambda: session.go_wanted.emit("Shift", "play")
        )
        self.play.setToolTip(shown(say("scene.through-all-gears-and-back")))
        self.shows = QComboBox()
        fill(self.shows, [(say("scene.the-box"), ""), (say("scene.the-whole-vehicle"), "whole")])
        self.shows.setAccessibleName(shown(say("scene.what-is-shown")))
        self.shows.activated.connect(lambda _n: self._show_again())
        self.looks = QComboBox()
        fill(self.looks, [(words, view) for view, words in VIEW_WORDS.items()])
        self.looks.setAccessibleName(shown(say("scene.looked-at")))
        self.looks.activated.connect(lambda _n: self._look())
        self.fit = button(say("scene.show-all"), self.view.fit)
        self.cuts = QComboBox()
        fill(self.cuts, [(words, key) for key, (words, _, _) in SECTIONS.items()])
        self.cuts.setAccessibleName(shown(say("scene.section")))
        self.cuts.activated.connect(lambda _n: self._cut())
        self.deep = self._slider(say("scene.depth-of-the-section"), STEPS // 2)
        self.deep.valueChanged.connect(lambda _n: self._cut())
        self.apart = self._slider(say("scene.how-far-apart"), 0)
        self.apart.valueChanged.connect(lambda _n: self._spread())
        self.walls = QCheckBox(shown(say("scene.walls")))
        self.walls.setChecked(False)
        self.walls.toggled.connect(lambda _on: self._hide())
        self.save = button(
            say("scene.save-picture"), lambda: self.pictures_wanted.emit({"space": self.view})
        )
        self.all_parts = button(say("scene.show-all-parts"), self._show_all)
        self.all_parts.hide()
        first, second = Flow(), Flow()
        running: tuple[QWidget, ...] = (
            self.run,
            self.play,
            caption(say("scene.slow")),
            self.speed,
            caption(say("scene.true-speed")),
            self.shows,
            self.looks,
            self.fit,
        )
        opened: tuple[QWidget, ...] = (
            self.cuts,
            self.deep,
            caption(say("scene.apart")),
            self.apart,
            self.walls,
            self.all_parts,
            self.save,
        )
        for row, widgets in ((first, running), (second, opened)):
            for widget in widgets:
                row.addWidget(widget)
        column.addLayout(first)
        column.addLayout(second)
        column.addWidget(self.view, 1)
        self.words = caption("", "soft", wrap=True)
        column.addWidget(self.words)
        self._working_rpm = 0.0
        self._hide()

    @staticmethod
    def _slider(name: str, value: int) -> QSlider:
        made = QSlider(Qt.Orientation.Horizontal)
        made.setRange(0, STEPS)
        made.setValue(value)
        made.setFixedWidth(110)
        made.setAccessibleName(shown(name))
        made.setToolTip(shown(name))
        return made

    def _rpm(self) -> float:
        """Give the motor's speed as the slider has it, from a crawl to its own."""
        share = SLOWEST ** (1.0 - self.speed.value() / STEPS)
        return float(self._working_rpm * share)

    def _run(self) -> None:
        running = bool(self.view.rpm)
        self.view.run(0.0 if running else self._rpm())
        self.run.setText(shown(say("scene.run") if running else say("scene.stop")))

    def hideEvent(self, event: QHideEvent | None) -> None:
        self.run.setText(shown(say("scene.run")))  # the picture stops when it is left
        super().hideEvent(event)

    def _look(self) -> None:
        """Look from the chosen side; the driver looks ahead over the box, wherever its input is."""
        view = self.looks.currentData()
        turn, up = VIEWS[view]
        if view == "seat" and self.session.vehicle.shifting.box_faces != "rear":
            turn += 180.0
        self.view.look_at(turn, up)

    def _take_off(self, part: Component) -> None:
        """Leave a part out of the picture; all of them are back with *Show all parts*."""
        self.view.taken_off = self.view.taken_off | {part.key}
        self.all_parts.show()
        self.view.redraw()

    def _show_all(self) -> None:
        self.view.taken_off = frozenset()
        self.all_parts.hide()
        self.view.redraw()

    def _keep_running(self) -> None:
        if self.view.rpm:
            self.view.run(self._rpm())

    def _show_again(self) -> None:
        if self.view.evaluation is not None:
            self.refresh(self.view.evaluation)

    def _cut(self) -> None:
        key = self.cuts.currentData() or ""
        _, axis, sign = SECTIONS[key]
        self.view.cut = (axis, sign, self.deep.value() / STEPS) if key else None
        self.deep.setEnabled(bool(key))
        self.view.redraw()

    def _spread(self) -> None:
        """Draw the parts apart, each along its way out."""
        spread = 2.0 * self.apart.value() / STEPS
        plan = assembly_plan(self.session.vehicle) if spread else None
        self.view.apart = None if plan is None else apart_moves(plan, self.view.parts, spread)
        self.view.redraw()

    def _hide(self) -> None:
        self.view.hidden = frozenset() if self.walls.isChecked() else WALLS
        self.view.redraw()

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's box in the engaged gear."""
        vehicle, situation = evaluation.vehicle, evaluation.situation
        self.view.empty = why_no_place(vehicle)
        rpm = situation.motor_rpm
        self._working_rpm = vehicle.motor.working_rpm if rpm is None else rpm
        try:
            torques = body_torques(vehicle, situation.gear, self._working_rpm)
            whole = bool(self.shows.currentData())
            stage = stage_of(
                vehicle,
                situation.gear,
                rpm,
                torques,
                whole=whole,
                road=situation.road,
                locked=situation.locked,
            )
        except InputError as error:
            stage, self.view.empty = None, str(error)
        self.view.show_stage(evaluation, stage)
        if self.apart.value():
            self._spread()
        for widget in (
            self.run,
            self.play,
            self.speed,
            self.looks,
            self.fit,
            self.cuts,
            self.apart,
        ):
            widget.setEnabled(stage is not None)
        self.deep.setEnabled(stage is not None and bool(self.cuts.currentData()))
        self.words.setText(shown(say("scene.drag-a-part-to-turn-it")) if stage is not None else "")
