"""A mechanism's picture flat, or in space: run, turned by hand, looked at from all sides."""

from collections.abc import Callable

from PyQt6.QtWidgets import QCheckBox, QStackedWidget, QVBoxLayout, QWidget

from mild_badger.app.drawing.widgets import button, caption, row_of
from mild_badger.app.scene.part_menu import part_menu
from mild_badger.app.scene.run_control import RunControl
from mild_badger.app.scene.space_view import SpaceView
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.theme.style import Theme
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.scene.stage import mechanism_stage

__all__ = ["FlatOrInSpace"]


class FlatOrInSpace(QWidget):
    """Holds a flat picture and one in space; ``mechanism`` says which one stands there."""

    def __init__(
        self, session: Session, theme: Theme, flat: QWidget, mechanism: Callable[[], str]
    ) -> None:
        super().__init__()
        self.session, self._mechanism = session, mechanism
        self.view = SpaceView(theme)
        self.view.setAccessibleName(say("tab-machine.the-mechanism-in-space"))
        self.view.chosen.connect(session.choose)
        self.view.asked.connect(lambda part, place: part_menu(session, part).popup(place))
        self.view.choose(session.part)
        session.part_chosen.connect(self.view.choose)
        self.running = RunControl(self.view)
        self.in_space = QCheckBox(shown(say("tab-machine.in-space")))
        self.in_space.toggled.connect(lambda _on: self.refresh(session.evaluation))
        self.fit = button(say("scene.show-all"), self.view.fit)
        self.vehicle = button(
            say("tab-machine.show-in-space"), lambda: session.go_wanted.emit("Layout", "space")
        )
        self._pictures = QStackedWidget()
        self._pictures.addWidget(flat)
        self._pictures.addWidget(self.view)
        self._moving = (*self.running.widgets, self.fit, self.vehicle)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addLayout(row_of(self.in_space, *self._moving))
        column.addWidget(self._pictures, 1)
        self.words = caption("", "soft", wrap=True)
        column.addWidget(self.words)
        self.view.bound.connect(
            lambda: self.words.setText(shown(say("tab-machine.at-the-end-of-its-travel")))
        )

    def refresh(self, evaluation: Evaluation) -> None:
        """Show the mechanism as it stands in the engaged gear, where it is looked at in space."""
        in_space = self.in_space.isChecked()
        self._pictures.setCurrentIndex(1 if in_space else 0)
        for widget in (*self._moving, self.words):
            widget.setVisible(in_space)
        if not in_space:
            return
        stage = None
        self.view.empty = say("tab-machine.nothing-of-it-stands-in-space")
        try:
            stage = mechanism_stage(
                evaluation.vehicle,
                self._mechanism(),
                evaluation.situation.gear,
                evaluation.motor_rpm,
            )
        except InputError as error:
            self.view.empty = str(error)
        self.running.working_rpm = evaluation.motor_rpm
        self.running.enable(on=stage is not None and bool(stage.turns.any()))
        self.words.setText(shown(say("scene.drag-a-part-to-turn-it")) if stage is not None else "")
        known = self.view.stage
        if stage is not None and known is not None and known.parts is not stage.parts:
            self.view.turned = 0.0  # another mechanism begins at the middle of its travel
        self.view.show_stage(evaluation, stage)
        motion = stage.mechanisms if stage is not None else None
        self.view.binds = None
        if stage is not None and motion is not None:
            self.view.binds = motion.reach(stage.turns)
