"""Saying in words how the balance of the carriage works out."""

from math import isinf

from mild_badger.core.figures import bare, in_a_row, in_kg, in_mm, in_n
from mild_badger.core.mechanisms.balance.figures import BalanceFigures, balance_figures
from mild_badger.core.mechanisms.balance.statics import Stability
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["describe_balance", "describe_chart", "describe_worst"]


def _describe_factor(stability: Stability) -> str:
    if stability.margin_mm < 0:
        return f"the machine tips over the {stability.edge} edge"
    if isinf(stability.factor):
        return "the load cannot tip the machine"
    return (
        f"stability factor {stability.factor:.2f}, centre of gravity "
        f"{in_mm(stability.margin_mm, 0)} "
        f"inside the {stability.edge} edge"
    )


def describe_balance(vehicle: Vehicle) -> str:
    """Say how a vehicle stands here and at its worst; "" where no balance is planned."""
    figures, balance = balance_figures(vehicle), vehicle.balance
    if figures is None or balance is None:
        return ""
    feet = in_a_row(in_n(newton, 1) for newton in figures.here.feet_n)
    stand = "feet" if balance.stands == "feet" else "wheels"
    here = f"As shown: {_describe_factor(figures.here)}; loads on the {stand} {feet}"
    return f"{here}, front left first. {describe_worst(vehicle)}"


def describe_worst(vehicle: Vehicle) -> str:
    """Say how a vehicle stands at its worst, all round; "" where no balance is planned."""
    figures, balance = balance_figures(vehicle), vehicle.balance
    if figures is None or balance is None:
        return ""
    sentences = [
        f"Worst with {in_kg(balance.load_kg)}, at {figures.loaded.slew_deg:.0f}° and "
        f"{in_mm(figures.loaded.reach_mm, 0)}: {_describe_factor(figures.loaded)}.",
        f"Worst without a load, at {figures.empty.slew_deg:.0f}°: "
        f"{_describe_factor(figures.empty)}.",
    ]
    if figures.window is not None:
        low, high = figures.window
        span = f"{in_kg(low, 2)} or "
        "more" if isinf(high) else f"{bare(in_kg(low, 2))} to {in_kg(high, 2)}"
        sentences.append(f"A counterweight of {span} keeps the machine stable in every position.")
    else:
        sentences.append("No counterweight keeps the machine stable in every position.")
    sentences.append(
        f"Travelling on its wheels, removable masses off: {_describe_factor(figures.road)}."
    )
    if figures.ground.wanted:
        sentences.append(
            f"Foot travel used {bare(in_mm(figures.ground.let_down, 1))} of "
            f"{in_mm(balance.foot_travel_mm)}; "
            f"slope left {figures.ground.tilt_deg:.1f}°."
        )
    return " ".join(sentences)


def describe_chart(figures: BalanceFigures) -> str:
    """Say what may hang drawn in and at full reach."""
    low, high = figures.chart.allowed_kg[0], figures.chart.allowed_kg[-1]

    def kilograms(kg: float) -> str:
        return "any load" if isinf(kg) else in_kg(kg, 2)

    return (
        f"All round it may lift {kilograms(low)} at {in_mm(figures.chart.reach_mm[0], 0)} and "
        f"{kilograms(high)} at {in_mm(figures.chart.reach_mm[-1], 0)}."
    )
