"""The box in space: run, turned by hand, shifted, cut open, drawn apart."""

from dataclasses import replace

from PyQt6.QtCore import QSignalBlocker, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QCheckBox, QComboBox, QVBoxLayout, QWidget

from mild_badger.app.drawing.flow import Flow
from mild_badger.app.drawing.widgets import button, caption, fill
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.scene.parts_canvas import WALLS
from mild_badger.app.scene.run_control import STEPS, RunControl, short_slider
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.axle.steering import road_at, steer_share
from mild_badger.core.components.component import Component
from mild_badger.core.driveline.assemble import shifter_state_for
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import in_mm
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.performance.power import body_torques
from mild_badger.core.scene.attempt import attempt
from mild_badger.core.scene.bend import bending_of
from mild_badger.core.scene.camera import VIEWS, ViewName
from mild_badger.core.scene.film import Film
from mild_badger.core.scene.flow import torque_flow
from mild_badger.core.scene.motion import shift_by, turns_of
from mild_badger.core.scene.stage import Stage, stage_of
from mild_badger.core.shift.drum import SIDES
from mild_badger.core.structure.names import shaft_letter
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
FILM_FRAMES, FILM_MS, FILM_TURNS, FILM_SIZE = 40, 60, 1.0, (720, 480)


class SpacePage(QWidget):
    """The picture in space with what it is looked at by.

    Signals
    -------
    pictures_wanted : the picture to be saved, by name
    bytes_wanted : the name and the bytes of a moving picture to be written
    """

    pictures_wanted = pyqtSignal(object)
    bytes_wanted = pyqtSignal(str, bytes)

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self.view = SpaceView(theme)
        self.view.chosen.connect(session.choose)
        self.view.asked.connect(
            lambda part, place: part_menu(session, part, self._take_off, self._push).popup(place)
        )
        self.view.bound.connect(self._bound)
        self._sleeves: dict[str, str] | None = None
        """Where sleeves stand that were pushed by hand; None as the engaged gear has them."""
        self._film: Film | None = None
        self._filming = QTimer(self)
        self._filming.timeout.connect(self._next_frame)
        self.view.choose(session.part)
        session.part_chosen.connect(self.view.choose)
        self.running = RunControl(self.view)
        self.run, self.speed = self.running.run, self.running.speed
        self.play = button(
            say("scene.play-the-run"), lambda: session.go_wanted.emit("Shift", "play")
        )
        self.play.setToolTip(shown(say("scene.through-all-gears-and-back")))
        self.shows = QComboBox()
        fill(self.shows, [(say("scene.the-box"), ""), (say("scene.the-whole-vehicle"), "whole")])
        self.shows.setAccessibleName(shown(say("scene.what-is-shown")))
        self.shows.activated.connect(lambda _n: self._show_again())
        self.steer = short_slider(say("scene.steer-left-or-right"), 0, -STEPS)
        self.steer.valueChanged.connect(lambda _n: self._steer())
        self.steers = caption(say("scene.steer"))
        self.looks = QComboBox()
        fill(self.looks, [(words, view) for view, words in VIEW_WORDS.items()])
        self.looks.setAccessibleName(shown(say("scene.looked-at")))
        self.looks.activated.connect(lambda _n: self._look())
        self.fit = button(say("scene.show-all"), self.view.fit)
        self.cuts = QComboBox()
        fill(self.cuts, [(words, key) for key, (words, _, _) in SECTIONS.items()])
        self.cuts.setAccessibleName(shown(say("scene.section")))
        self.cuts.activated.connect(lambda _n: self._cut())
        self.deep = short_slider(say("scene.depth-of-the-section"), STEPS // 2)
        self.deep.valueChanged.connect(lambda _n: self._cut())
        self.apart = short_slider(say("scene.how-far-apart"), 0)
        self.apart.valueChanged.connect(lambda _n: self._spread())
        self.walls = QCheckBox(shown(say("scene.walls")))
        self.walls.setChecked(False)
        self.walls.toggled.connect(lambda _on: self._hide())
        self.flow = QCheckBox(shown(say("scene.torque-as-width")))
        self.flow.toggled.connect(lambda _on: self._show_flow())
        self.bends = QCheckBox(shown(say("scene.shafts-bent-at-stall")))
        self.bends.toggled.connect(lambda _on: self._show_bent())
        self.moving = button(say("scene.save-moving-picture"), self._save_moving)
        self.save = button(
            say("scene.save-picture"), lambda: self.pictures_wanted.emit({"space": self.view})
        )
        self.all_parts = button(say("scene.show-all-parts"), self._show_all)
        self.all_parts.hide()
        row = Flow()
        tools: tuple[QWidget, ...] = (
            *self.running.widgets,
            self.play,
            self.shows,
            self.looks,
            self.fit,
            self.cuts,
            self.deep,
            caption(say("scene.apart")),
            self.apart,
            self.steers,
            self.steer,
            self.walls,
            self.flow,
            self.bends,
            self.all_parts,
            self.save,
            self.moving,
        )
        for widget in tools:
            row.addWidget(widget)
        column.addLayout(row)
        column.addWidget(self.view, 1)
        self.words = caption("", "soft", wrap=True)
        column.addWidget(self.words)
        self._hide()

    def hideEvent(self, event: QHideEvent | None) -> None:
        if self._film is not None:
            self._end_film()
        super().hideEvent(event)

    def _look(self) -> None:
        """Look from the chosen side; the driver looks ahead over the box, wherever its input is."""
        view = self.looks.currentData()
        turn, up = VIEWS[view]
        if view == "seat" and self.session.vehicle.shifting.box_faces != "rear":
            turn += 180.0
        self.view.look_at(turn, up)

    def _push(self, sleeve: str, face: str | None) -> None:
        """Push a sleeve by hand, as the shifter lets it."""
        evaluation, stage = self.session.evaluation, self.view.stage
        if stage is None:
            return
        vehicle = evaluation.vehicle
        now = self._sleeves
        if now is None:
            now = dict(shifter_state_for(vehicle, evaluation.situation.gear))
        found = attempt(vehicle, evaluation.proof.states, now, sleeve, face)
        if found.stopped:
            self.view.try_shift(sleeve, SIDES.get(face or "", 0) * found.share * self._travel())
            self.words.setText(shown(say("scene.the-interlock-stops-it")))
            return
        self._sleeves = dict(found.sleeves)
        travel = {name: SIDES[at] * self._travel() for name, at in found.sleeves.items()}
        turns = turns_of(vehicle, stage.parts, None, sleeves=found.sleeves)
        if found.locked:  # until it binds it turns as it did
            turns = turns_of(vehicle, stage.parts, None, sleeves=now)
        roles = tuple(
            "fight" if not found.fighting.isdisjoint(part.bodies) else "idle"
            for part in stage.parts
        )
        known = self.view.turned
        play = (known - found.play_turns, known + found.play_turns)
        self.view.binds = play if found.locked else None
        shift = shift_by(travel, stage.levers)
        self.view.show_stage(evaluation, replace(stage, turns=turns, roles=roles, shift=shift))
        words = say("scene.this-state-locks") if found.locked else say("scene.pushed-by-hand")
        self.words.setText(shown(words))

    def _travel(self) -> float:
        return self.session.vehicle.lever.fork_travel_mm

    def _bound(self) -> None:
        """Say that a locked train binds; the parts that fight are marked."""
        self.words.setText(shown(say("scene.the-train-binds")))

    def _show_flow(self) -> None:
        """Draw the torque as wide as it is large, where that is asked for."""
        stage, situation = self.view.stage, self.session.situation
        self.view.flow = ()
        if self.flow.isChecked() and stage is not None and self._sleeves is None:
            self.view.flow = torque_flow(
                self.session.vehicle, situation.gear, stage.parts, stage.torques
            )
        self.view.redraw()

    def _show_bent(self) -> None:
        """Draw shafts bent by the motor's stall torque, where that is asked for."""
        vehicle, gear = self.session.vehicle, self.session.situation.gear
        bending = bending_of(vehicle, gear, self.view.parts) if self.bends.isChecked() else None
        if self.bends.isChecked() or self.view.bending is not None:
            self.view.show_bent(bending)
        if bending is not None:
            words = say(
                "scene.bending-drawn",
                factor=bending.factor,
                shaft=shaft_letter(vehicle, bending.shaft),
                most=in_mm(bending.most_mm, 2),
            )
            self.words.setText(shown(words))

    def _save_moving(self) -> None:
        """Film what runs, or one slow turn, frame by frame; pressed again it is given up."""
        if self._film is not None:
            self._end_film()
            return
        self._film = Film(FILM_MS)
        self.moving.setText(shown(say("scene.stop-filming")))
        self._filming.start()

    def _next_frame(self) -> None:
        """Draw the next frame of the film; write it once all are there."""
        film = self._film
        drawn = self.view.frame(FILM_SIZE)
        if film is None or drawn is None:
            self._end_film()
            return
        film.add(drawn.pixels)
        if not self.view.moving:  # what stands is turned for the film
            self.view.turn_on(FILM_TURNS / FILM_FRAMES)
        self.words.setText(shown(say("scene.filming", frame=len(film), frames=FILM_FRAMES)))
        if len(film) >= FILM_FRAMES:
            data = film.written()
            self._end_film()
            self.bytes_wanted.emit("space.gif", data)

    def _end_film(self) -> None:
        self._filming.stop()
        self._film = None
        self.moving.setText(shown(say("scene.save-moving-picture")))
        self.words.setText(shown(say("scene.drag-a-part-to-turn-it")))

    def _take_off(self, part: Component) -> None:
        """Leave a part out of the picture; all of them are back with *Show all parts*."""
        self.view.taken_off = self.view.taken_off | {part.key}
        self.all_parts.show()
        self.view.redraw()

    def _show_all(self) -> None:
        self.view.taken_off = frozenset()
        self.all_parts.hide()
        self.view.redraw()

    def _show_again(self) -> None:
        if self.view.evaluation is not None:
            self.refresh(self.view.evaluation)

    def _steer(self) -> None:
        """Drive a turn as tight as the rack's place has it."""
        self.session.drive(road_at(self.session.vehicle, self.steer.value() / STEPS))

    def _show_steering(self, stage: Stage | None) -> None:
        """Stand the slider where the road has the rack, where the picture steers."""
        steers = stage is not None and stage.steered is not None
        for widget in (self.steers, self.steer):
            widget.setVisible(steers)
        if steers and not self.steer.isSliderDown():
            share = steer_share(self.session.vehicle, self.session.situation.road)
            with QSignalBlocker(self.steer):
                self.steer.setValue(round(STEPS * share))

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
        self._sleeves, self.view.binds = None, None
        vehicle, situation = evaluation.vehicle, evaluation.situation
        self.view.empty = why_no_place(vehicle)
        self.running.working_rpm = rpm = evaluation.motor_rpm
        try:
            torques = body_torques(vehicle, situation.gear, rpm)
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
        self._show_flow()
        self._show_steering(stage)
        self.running.enable(on=stage is not None)
        for widget in (
            self.play,
            self.looks,
            self.fit,
            self.cuts,
            self.apart,
        ):
            widget.setEnabled(stage is not None)
        self.deep.setEnabled(stage is not None and bool(self.cuts.currentData()))
        self.words.setText(shown(say("scene.drag-a-part-to-turn-it")) if stage is not None else "")
        self._show_bent()
