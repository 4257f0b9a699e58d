"""The clutch's page: sizes right, its section and what it holds left."""

from PyQt6.QtWidgets import QCheckBox

from mild_badger.app.drawing.fields import FieldSpec
from mild_badger.app.drawing.widgets import button, row_of
from mild_badger.app.session import Session
from mild_badger.app.shown import shown
from mild_badger.app.tabs.machine.clutch_view import ClutchView
from mild_badger.app.tabs.machine.mechanism_page import MechanismPage
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.mechanisms.clutch.describe import describe_clutch
from mild_badger.core.mechanisms.clutch.grip import LININGS
from mild_badger.core.mechanisms.clutch.wear import LINING_WEAR
from mild_badger.core.mechanisms.registry import mechanism_on
from mild_badger.core.message import say
from mild_badger.core.trial.log import watch_wear
from mild_badger.core.vehicle.bodies import CLUTCH as CLUTCH_BODY
from mild_badger.core.words import signed, word

__all__ = ["ClutchPage"]

CLUTCH = ("clutch",)
LINING_WORDS = tuple((name, f"{word(name)}, {signed(mu, 'g')}") for name, mu in LININGS.items())
FIELDS = (
    FieldSpec((*CLUTCH, "outer_mm")),
    FieldSpec((*CLUTCH, "inner_mm")),
    FieldSpec((*CLUTCH, "faces")),
    FieldSpec((*CLUTCH, "lining"), choices=(*LINING_WORDS, ("own", say("tab-machine.my-own")))),
    FieldSpec((*CLUTCH, "own_mu")),
    FieldSpec((*CLUTCH, "limit_mpa"), optional=True),
    FieldSpec((*CLUTCH, "spring_n")),
    FieldSpec((*CLUTCH, "spring_n_per_mm")),
    FieldSpec((*CLUTCH, "wear_mm")),
    FieldSpec((*CLUTCH, "gap_mm")),
    FieldSpec((*CLUTCH, "lever_ratio"), unit=": 1"),
    FieldSpec((*CLUTCH, "pedal_mm")),
    FieldSpec((*CLUTCH, "free_mm")),
)


class ClutchPage(MechanismPage):
    """Sizes, and a button by which the log watches the lining."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = ClutchView(theme)
        super().__init__(
            session,
            mechanism_on("clutch"),
            self.view,
            FIELDS,
            in_space=lambda: CLUTCH_BODY,
        )
        self.watch = button(say("tab-machine.remind-me-in-the-log"), self._watch)
        self.pedal = QCheckBox(shown(say("tab-machine.pedal-down-clutch-released")))
        self.pedal.clicked.connect(lambda on: session.release(bool(on)))
        self.right.addWidget(self.pedal)
        self.right.addLayout(row_of(self.watch))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's clutch."""
        planned = evaluation.vehicle.clutch is not None
        self.show_planned(evaluation, describe_clutch(evaluation.vehicle), planned=planned)
        self.watch.setEnabled(planned)
        self.pedal.setEnabled(planned)
        self.pedal.setChecked(planned and evaluation.situation.released)
        self.view.show_evaluation(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return say("tab-machine.a-friction-clutch-between-motor-and-box-a")

    def _watch(self) -> None:
        self.session.do(watch_wear(self.session.vehicle, LINING_WEAR))
