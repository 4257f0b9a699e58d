"""What the pages of the tab Machine share: a picture and words left, fields right."""

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from mild_badger.app.drawing.canvas import Canvas
from mild_badger.app.drawing.fields import FieldForm, FieldSpec
from mild_badger.app.drawing.widgets import button, caption, row_of, scrolled
from mild_badger.app.session import Session
from mild_badger.app.tabs.machine.in_space import FlatOrInSpace
from mild_badger.core.errors import BadgerError
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.mechanisms.base import Mechanism
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Path

__all__ = ["MechanismPage"]

SIDE_PX = 300


def _in_area(view: QWidget) -> QScrollArea:
    """Let a picture that grows with what is planned be scrolled."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setWidget(view)
    return area


class MechanismPage(QWidget):
    """A mechanism that is planned and taken away; ``left``, ``top`` and ``right`` take the rest.

    ``number`` says which of several is in view, ``root`` where its fields stand if that changes; a
    picture that ``scrolls`` grows; ``in_space`` gives what is then seen in space. Nothing is
    computed here: pages hand in what core says.
    """

    def __init__(
        self,
        session: Session,
        mechanism: Mechanism,
        view: Canvas,
        asks: Sequence[FieldSpec],
        *,
        number: Callable[[], int] = lambda: 0,
        root: Callable[[], Path] = tuple,
        scrolls: bool = False,
        in_space: Callable[[], str] | None = None,
    ) -> None:
        super().__init__()
        self.session, self.mechanism, self._number = session, mechanism, number
        outer = QHBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(12)
        self.left = QVBoxLayout()
        self.left.setSpacing(6)
        flat = _in_area(view) if scrolls else view
        self.pictures = None
        if in_space is not None:
            self.pictures = FlatOrInSpace(session, view.theme, flat, in_space)
        self.left.addWidget(self.pictures or flat, 1)
        self.words = caption("", wrap=True)
        self.left.addWidget(self.words)
        outer.addLayout(self.left, 1)
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 6, 0)
        column.setSpacing(6)
        thing = mechanism.page.thing
        self.plan = button(say("tab-machine.add", thing=thing), self._plan, "main")
        self.drop = button(say("tab-machine.remove", thing=thing), self._drop)
        column.addLayout(row_of(self.plan, self.drop))
        self.seen = button(
            say("tab-machine.show-in-space"), lambda: session.go_wanted.emit("Layout", "space")
        )
        column.addWidget(self.seen)
        self.top = QVBoxLayout()
        column.addLayout(self.top)
        self.fields = FieldForm(session, asks, root)
        column.addWidget(self.fields)
        self.right = QVBoxLayout()
        self.right.setSpacing(6)
        column.addLayout(self.right)
        column.addStretch(1)
        outer.addWidget(scrolled(side, SIDE_PX))

    def _plan(self) -> None:
        edit = self.mechanism.add(self.session.vehicle)
        if edit is not None:
            self.session.do(edit)

    def _drop(self) -> None:
        try:
            self.session.do(self.mechanism.remove(self.session.vehicle, self._number()))
        except BadgerError as error:
            self.session.refused.emit(str(error))

    def show_planned(self, evaluation: Evaluation, words: str, *, planned: bool) -> None:
        """Show the fields' values and what there is to say, or only that one may be planned."""
        self.plan.setVisible(not planned)
        self.drop.setVisible(planned)
        self.seen.setVisible(planned and self.pictures is None)
        if self.pictures is not None:
            self.pictures.in_space.setEnabled(planned)
            self.pictures.refresh(evaluation)
        self.fields.setEnabled(planned)
        if planned:
            self.fields.show_values(evaluation.vehicle)
        else:
            self.fields.clear_values()
        self.words.setText(words)
