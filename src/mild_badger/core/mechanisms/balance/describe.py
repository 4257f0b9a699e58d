"""Saying in words how the balance of the carriage works out."""

from math import isinf

from mild_badger.core.figures import bare, in_a_row, in_kg, in_mm, in_n
from mild_badger.core.mechanisms.balance.figures import BalanceFigures, balance_figures
from mild_badger.core.mechanisms.balance.statics import Stability
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["describe_balance", "describe_chart", "describe_worst"]


def _describe_factor(stability: Stability) -> str:
    if stability.margin_mm < 0:
        return say("balance.the-machine-tips-over-the-edge", edge=stability.edge)
    if isinf(stability.factor):
        return say("balance.the-load-cannot-tip-the-machine")
    return say(
        "balance.stability-factor-centre-of-gravity-inside",
        factor=stability.factor,
        margin_mm=in_mm(stability.margin_mm, 0),
        edge=stability.edge,
    )


def describe_balance(vehicle: Vehicle) -> str:
    """Say how a vehicle stands here and at its worst; "" where no balance is planned."""
    figures, balance = balance_figures(vehicle), vehicle.balance
    if figures is None or balance is None:
        return ""
    feet = in_a_row(in_n(newton, 1) for newton in figures.here.feet_n)
    stand = "feet" if balance.stands == "feet" else say("balance.wheels")
    here = say(
        "balance.as-shown-loads-on-the",
        factor=_describe_factor(figures.here),
        stand=stand,
        feet=feet,
    )
    return say("balance.front-left-first", here=here, worst=describe_worst(vehicle))


def describe_worst(vehicle: Vehicle) -> str:
    """Say how a vehicle stands at its worst, all round; "" where no balance is planned."""
    figures, balance = balance_figures(vehicle), vehicle.balance
    if figures is None or balance is None:
        return ""
    sentences = [
        say(
            "balance.worst-with-at-and",
            load_kg=in_kg(balance.load_kg),
            slew_deg=figures.loaded.slew_deg,
            reach_mm=in_mm(figures.loaded.reach_mm, 0),
            factor=_describe_factor(figures.loaded),
        ),
        say(
            "balance.worst-without-a-load-at",
            slew_deg=figures.empty.slew_deg,
            factor=_describe_factor(figures.empty),
        ),
    ]
    if figures.window is not None:
        low, high = figures.window
        span = say("balance.or", low=in_kg(low, 2))
        "more" if isinf(high) else say("balance.to", low=bare(in_kg(low, 2)), high=in_kg(high, 2))
        sentences.append(say("balance.a-counterweight-of-keeps-the-machine-stable", span=span))
    else:
        sentences.append(say("balance.no-counterweight-keeps-the-machine-stable-in"))
    sentences.append(
        say(
            "balance.travelling-on-its-wheels-removable-masses",
            factor=_describe_factor(figures.road),
        )
    )
    if figures.ground.wanted:
        sentences.append(
            say(
                "balance.foot-travel-used-of-slope-left",
                let_down=bare(in_mm(figures.ground.let_down, 1)),
                foot_travel_mm=in_mm(balance.foot_travel_mm),
                tilt_deg=figures.ground.tilt_deg,
            )
        )
    return " ".join(sentences)


def describe_chart(figures: BalanceFigures) -> str:
    """Say what may hang drawn in and at full reach."""
    low, high = figures.chart.allowed_kg[0], figures.chart.allowed_kg[-1]

    def kilograms(kg: float) -> str:
        return say("balance.any-load") if isinf(kg) else in_kg(kg, 2)

    return say(
        "balance.all-round-it-may-lift-at-and-at",
        kilograms=kilograms(low),
        reach_mm=in_mm(figures.chart.reach_mm[0], 0),
        kilograms_2=kilograms(high),
        reach_mm_2=in_mm(figures.chart.reach_mm[-1], 0),
    )
