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
            "The counterweight travel is unknown",
            f"{names[1]} and {names[0]} must be outputs that slide and turn "
            f"with one input; {balance.weight_share:g} is used.",
        )
    elif figures.share < 0 and any(mass.on == "counterweight" for mass in balance.masses):
        yield Finding(
            Severity.WARNING,
            "weight-runs-in",
            ("balance",),
            "The counterweight moves the wrong way",
            f"The counterweight moves in {in_mm(-figures.share, 2)} while the carriage moves out "
            f"{in_mm(1)}. Add or remove one mesh in its gear train.",
            figures.share,
            0.0,
        )


def _tips(balance: Balance, figures: BalanceFigures) -> Iterator[Finding]:
    least, where = balance.least_factor, ("balance",)
    mend = _put_ballast(balance, figures.window)
    cases = (
        (figures.loaded, "with load", "tips"),
        (figures.empty, "without load", "tips-empty"),
    )
    for stand, words, code in cases:
        at = f"at {stand.slew_deg:.0f}° and a reach of {in_mm(stand.reach_mm, 0)}"
        if stand.margin_mm < 0:
            yield Finding(
                Severity.ERROR,
                code,
                where,
                f"The machine tips {words}",
                f"{capitalized(at)} the centre of gravity lies {in_mm(-stand.margin_mm, 0)} "
                f"outside the {stand.edge} edge. Move ballast, widen the support or lift less.",
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
                f"Low stability margin {words}",
                f"{capitalized(at)} the stability factor (holding ÷ tipping "
                f"moment) over the {stand.edge} edge is {stand.factor:.2f}; {least:g} is required.",
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
            "The machine tips on the road",
            f"On its wheels, boom ahead, the centre of gravity lies "
            f"{in_mm(-figures.road.margin_mm, 0)} outside the {figures.road.edge} edge.",
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
    return Edit.one(f"Make {name} {in_kg(kg)}", ("balance", "masses", riding[0], "mass_kg"), kg)


def _stands(vehicle: Vehicle, balance: Balance, figures: BalanceFigures) -> Iterator[Finding]:
    where, ground = ("balance",), figures.ground
    if ground.tilt_deg > TILT_DEG:
        reach = (
            f"Its feet can be let down {in_mm(balance.foot_travel_mm)}, {ground.wanted:.1f} are "
            "wanted"
            if balance.stands == "feet"
            else "On its wheels it is not levelled"
        )
        yield Finding(
            Severity.WARNING,
            "not-level",
            where,
            "The machine does not stand level",
            f"{reach}: {ground.tilt_deg:.1f}° are left: the boom swings downhill by itself, and "
            "the load with it.",
            ground.tilt_deg,
            0.0,
            "°",
        )
    if figures.ring is not None and figures.ring.lifts_n > 0:
        yield Finding(
            Severity.WARNING,
            "ring-lifts",
            where,
            "The slewing ring lifts",
            "At this reach the far side of the ring pulls up with "
            f"{in_n(figures.ring.lifts_n, 1)}: "
            "hold it down with hooks or a king pin, or use a wider ring or more counterweight.",
            figures.ring.lifts_n,
            0.0,
            "N",
        )
    total = sum(mass.mass_kg for mass in balance.masses)
    known = running_of(vehicle).chassis.mass_kg
    if vehicle.running is not None and abs(total / known - 1) > MASS_OFF_PERCENT / 100:
        mend = Edit.one(
            "Use the mass of the page Balance", ("running", "chassis", "mass_kg"), round(total, 3)
        )
        yield Finding(
            Severity.NOTE,
            "mass-differs",
            where,
            "The Balance and Road pages use different vehicle masses",
            f"The masses on the page Balance add up to {in_kg(total, 2)}; the tab Road uses "
            f"{in_kg(known, 2)}.",
            total,
            known,
            "kg",
            mend,
        )
