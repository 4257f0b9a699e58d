"""The liquid line's page: sizes right, its cylinders to scale left."""

from mild_badger.app.benches.machine.liquid_view import LiquidView
from mild_badger.app.benches.machine.mechanism_page import MechanismPage
from mild_badger.app.drawing.fields import Ask
from mild_badger.app.drawing.widgets import caption
from mild_badger.app.session import Session
from mild_badger.app.theme.style import Theme
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.machine.liquid_result import drop_line, liquid_words, start_line
from mild_badger.core.workshop.cautions import caution_of

__all__ = ["LiquidPage"]

LINE = ("liquid",)
ASKS = (
    Ask((*LINE, "works"), "It works", "", choices=(("brake", "brakes"), ("clutch", "the clutch"))),
    Ask((*LINE, "master_mm"), "Master's bore"),
    Ask((*LINE, "slave_mm"), "Slaves' bore"),
    Ask((*LINE, "slaves"), "Slaves", ""),
    Ask((*LINE, "hand_n"), "Force at the pedal", "N"),
    Ask((*LINE, "pedal_ratio"), "Pedal's ratio", ": 1"),
    Ask((*LINE, "pedal_mm"), "Pedal's travel"),
    Ask((*LINE, "lost_mm3"), "Lost in air, tubes", "mm³"),
    Ask((*LINE, "floating"), "Calipers", "", choices=(("true", "float"), ("false", "one side"))),
    Ask((*LINE, "gap_mm"), "Gap of a pad"),
    Ask((*LINE, "radius_mm"), "Pads bite at a radius"),
    Ask((*LINE, "pad_mu"), "Pads' μ", ""),
    Ask((*LINE, "weight_share"), "Weight on those wheels", "of 1"),
)  # fmt: skip


class LiquidPage(MechanismPage):
    """Sizes, and the caution that goes with liquid under pressure."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.view = LiquidView(theme)
        super().__init__(session, self.view, ASKS, plan=start_line, drop=drop_line)
        self.left.addWidget(caption(caution_of("liquid"), "soft", wrap=True))

    def refresh(self, evaluation: Evaluation) -> None:
        """Show a vehicle's liquid line."""
        vehicle = evaluation.vehicle
        self.show_planned(evaluation, liquid_words(vehicle), planned=vehicle.liquid is not None)
        self.view.show_evaluation(evaluation)

    def facts(self) -> str:
        """Say what the page does."""
        return (
            "From a pedal through a master to its slaves: a wider slave pushes harder and moves "
            "less, and two slaves move half as far as one."
        )
