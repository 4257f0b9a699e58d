"""The chapter on balance: masses, stand and load chart."""

from math import isinf

from mild_badger.core.figures import KG, MM, bare, in_kg, in_mm
from mild_badger.core.kit.cautions import caution_of
from mild_badger.core.mechanisms.balance.describe import describe_balance, describe_chart
from mild_badger.core.mechanisms.balance.figures import balance_figures
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["balance_chapter"]


def balance_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write masses, stand and load chart; None where no balance is planned."""
    balance, figures = vehicle.balance, balance_figures(vehicle)
    if balance is None or figures is None:
        return None
    masses = tuple(
        (
            m.name,
            bare(in_kg(m.mass_kg)),
            m.on,
            bare(in_mm(m.x_mm)),
            bare(in_mm(m.y_mm)),
            bare(in_mm(m.z_mm)),
            "removable" if m.removable else "",
        )
        for m in balance.masses
    )
    mass_columns = (
        ("mass", 0.0, "left"),
        (KG, 64.0, "right"),
        ("on", 70.0, "left"),
        (say("balance.ahead", mm=MM), 116.0, "right"),
        (say("balance.left", mm=MM), 134.0, "right"),
        (say("balance.height", mm=MM), 152.0, "right"),
        ("", 156.0, "left"),
    )
    chart = figures.chart
    every_third = list(zip(chart.reach_mm, chart.allowed_kg, chart.tips_kg, strict=True))[::3]
    loads = tuple(
        (
            bare(in_mm(mm, 0)),
            *("any" if isinf(kg) else bare(in_kg(kg, 2)) for kg in (allowed, tips)),
        )
        for mm, allowed, tips in every_third
    )
    load_columns = (
        (say("balance.reach", mm=MM), 16.0, "right"),
        (say("balance.allowed", kg=KG), 46.0, "right"),
        (say("balance.tips-at", kg=KG), 70.0, "right"),
    )
    return Chapter(
        say("balance.balance"),
        (
            Sentences(f"{describe_balance(vehicle)} {describe_chart(figures)}"),
            Table(mass_columns, masses),
            Table(load_columns, loads),
            Sentences(caution_of("lifting")),
        ),
    )
