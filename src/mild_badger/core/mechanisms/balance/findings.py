"""What may be wrong with the balance of the carriage."""

from collections.abc import Iterator
from math import inf

from mild_badger.core.axle.running import running_of
from mild_badger.core.figures import in_kg, in_mm, in_n
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mechanisms.balance.figures import (
    BalanceFigures,
    balance_figures,
    weight_share,
)
from mild_badger.core.mechanisms.balance.model import Balance
from mild_badger.core.mechanisms.crane.model import Crane
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = ["balance_findings"]


MASS_OFF_PERCENT = 10.0


TILT_DEG = 0.2


def balance_findings(vehicle: Vehicle) -> Iterator[Finding]:
    """Say what tips, forwards or backwards, what is not level, and what lifts."""
    figures, balance = balance_figures(vehicle), vehicle.balance
    if figures is None or balance is None:
        return
    yield from _tips(balance, figures)
    yield from _stands(vehicle, balance, figures)
    if weight_share(vehicle) is None:
        crane = vehicle.crane or Crane()
        names = [crane.called(named or "") for named in (balance.carriage, balance.counterweight)]
        yield Finding(
            Severity.WARNING,
            "weight-share",
            ("balance",),
            say("balance.the-counterweight-travel-is-unknown"),
            say(
                "balance.and-must-be-outputs-that-slide-and-turn-with",
                names=names[1],
                names_2=names[0],
                weight_share=balance.weight_share,
            ),
        )
    elif figures.share < 0 and any(mass.on == "counterweight" for mass in balance.masses):
        yield Finding(
            Severity.WARNING,
            "weight-runs-in",
            ("balance",),
            say("balance.the-counterweight-moves-the-wrong-way"),
            say(
                "balance.the-counterweight-moves-in-while-the",
                share=in_mm(-figures.share, 2),
                value=in_mm(1),
            ),
            figures.share,
            0.0,
        )


def _tips(balance: Balance, figures: BalanceFigures) -> Iterator[Finding]:
    least, where = balance.least_factor, ("balance",)
    mend = _put_ballast(balance, figures.window)
    cases = (
        (figures.loaded, say("balance.with-load"), "tips"),
        (figures.empty, say("balance.without-load"), "tips-empty"),
    )
    for stand, words, code in cases:
        at = say(
            "balance.at-and-a-reach-of", slew_deg=stand.slew_deg, reach_mm=in_mm(stand.reach_mm, 0)
        )
        if stand.margin_mm < 0:
            yield Finding(
                Severity.ERROR,
                code,
                where,
                say("balance.the-machine-tips", words=words),
                say(
                    "balance.the-centre-of-gravity-lies-outside-the-edge",
                    at=capitalized(at),
                    margin_mm=in_mm(-stand.margin_mm, 0),
                    edge=stand.edge,
                ),
                stand.margin_mm,
                0.0,
                "mm",
                mend,
            )
        elif stand.factor < least:
            yield Finding(
                Severity.WARNING,
                f"{code}-soon",
                where,
                say("balance.low-stability-margin", words=words),
                say(
                    "balance.the-stability-factor-holding-tipping-moment",
                    at=capitalized(at),
                    edge=stand.edge,
                    factor=stand.factor,
                    least=least,
                ),
                stand.factor,
                least,
                "",
                mend,
            )
    if figures.road.margin_mm < 0:
        yield Finding(
            Severity.ERROR,
            "tips-road",
            where,
            say("balance.the-machine-tips-on-the-road"),
            say(
                "balance.on-its-wheels-boom-ahead-the-centre-of",
                margin_mm=in_mm(-figures.road.margin_mm, 0),
                edge=figures.road.edge,
            ),
            figures.road.margin_mm,
            0.0,
            "mm",
        )


def _put_ballast(balance: Balance, window: tuple[float, float] | None) -> Edit | None:
    """Make the one mass at the counterweight what lets it stand everywhere."""
    riding = [n for n, mass in enumerate(balance.masses) if mass.on == "counterweight"]
    if window is None or len(riding) != 1:
        return None
    low, high = window
    wanted = low * 1.05 if high == inf else low + 0.25 * (high - low)
    kg = round(min(wanted, 1000.0), 3)
    if not low <= kg <= high:
        return None
    name = balance.masses[riding[0]].name
    return Edit.one(
        say("balance.make", name=name, kg=in_kg(kg)),
        ("balance", "masses", riding[0], "mass_kg"),
        kg,
    )


def _stands(vehicle: Vehicle, balance: Balance, figures: BalanceFigures) -> Iterator[Finding]:
    where, ground = ("balance",), figures.ground
    if ground.tilt_deg > TILT_DEG:
        reach = (
            say(
                "balance.its-feet-can-be-let-down-are-wanted",
                foot_travel_mm=in_mm(balance.foot_travel_mm),
                wanted=ground.wanted,
            )
            if balance.stands == "feet"
            else say("balance.on-its-wheels-it-is-not-levelled")
        )
        yield Finding(
            Severity.WARNING,
            "not-level",
            where,
            say("balance.the-machine-does-not-stand-level"),
            say(
                "balance.are-left-the-boom-swings-downhill-by-itself",
                reach=reach,
                tilt_deg=ground.tilt_deg,
            ),
            ground.tilt_deg,
            0.0,
            "°",
        )
    if figures.ring is not None and figures.ring.lifts_n > 0:
        yield Finding(
            Severity.WARNING,
            "ring-lifts",
            where,
            say("balance.the-slewing-ring-lifts"),
            say(
                "balance.at-this-reach-the-far-side-of-the-ring-pulls",
                lifts_n=in_n(figures.ring.lifts_n, 1),
            ),
            figures.ring.lifts_n,
            0.0,
            "N",
        )
    total = sum(mass.mass_kg for mass in balance.masses)
    known = running_of(vehicle).chassis.mass_kg
    if vehicle.running is not None and abs(total / known - 1) > MASS_OFF_PERCENT / 100:
        mend = Edit.one(
            say("balance.use-the-mass-of-the-page-balance"),
            ("running", "chassis", "mass_kg"),
            round(total, 3),
        )
        yield Finding(
            Severity.NOTE,
            "mass-differs",
            where,
            say("balance.the-balance-and-road-pages-use-different"),
            say(
                "balance.the-masses-on-the-page-balance-add-up-to-the",
                total=in_kg(total, 2),
                known=in_kg(known, 2),
            ),
            total,
            known,
            "kg",
            mend,
        )
