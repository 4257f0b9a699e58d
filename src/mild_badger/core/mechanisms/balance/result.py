"""Whether a vehicle with a boom stands: figures, words, findings and edits."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from math import inf, isinf
from typing import get_args

from mild_badger.core.axle.running import running_of
from mild_badger.core.errors import InputError
from mild_badger.core.figures import bare, in_a_row, in_kg, in_mm, in_n
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.ids import MassId
from mild_badger.core.mechanisms.balance.model import Balance, Mass, MassPlace
from mild_badger.core.mechanisms.balance.statics import (
    LoadChart,
    OnRing,
    SlopedGround,
    Stability,
    ballast_window,
    ground_under,
    load_chart,
    on_ring,
    standing,
    worst,
)
from mild_badger.core.mechanisms.crane.figures import crane_figures, shares
from mild_badger.core.mechanisms.crane.model import Crane, Ring
from mild_badger.core.targets.schools import parse_number
from mild_badger.core.vehicle.cache_key import CacheKey, cache_key
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized

__all__ = [
    "MASS_FIELDS",
    "BalanceFigures",
    "add_balance",
    "add_mass",
    "balance_faults",
    "balance_figures",
    "describe_balance",
    "describe_chart",
    "describe_worst",
    "move_boom",
    "remove_balance",
    "remove_mass",
    "ring_mm",
    "type_mass",
    "weight_share",
    "with_boom",
]

MASS_OFF_PERCENT = 10.0
TILT_DEG = 0.2


@dataclass(frozen=True)
class BalanceFigures:
    """All of it: the ground, the share of the counterweight, this position, the worst ones.

    ``empty`` are without the load, as after it was set down or fell; ``road`` is on the wheels,
    the boom straight ahead and drawn in, without what is removable.
    """

    ground: SlopedGround
    share: float
    here: Stability
    here_empty: Stability
    loaded: Stability
    empty: Stability
    road: Stability
    chart: LoadChart
    window: tuple[float, float] | None
    ring: OnRing | None

    def charted(
        self, load_kg: float
    ) -> tuple[list[tuple[float, float]], list[tuple[float, float]]]:
        """Give the load chart's curves, allowed and tipping, cut off well above what hangs."""
        most = max(2.5 * load_kg, 4 * self.chart.allowed_kg[-1])
        most = min(most, max((kg for kg in self.chart.tips_kg if kg < inf), default=0.0))
        curves = (self.chart.allowed_kg, self.chart.tips_kg)
        allowed, tips = (
            [(mm, min(kg, most)) for mm, kg in zip(self.chart.reach_mm, curve, strict=True)]
            for curve in curves
        )
        return allowed, tips


def add_balance(vehicle: Vehicle) -> Edit:
    """Plan a balance: the vehicle's own mass, a boom's, and ballast, in usual proportions."""
    axle, mass = vehicle.axle, running_of(vehicle).chassis.mass_kg
    ahead = round(axle.wheelbase_mm / 3, 1)
    high = vehicle.wheels.diameter_mm
    masses = (
        Mass(
            name="chassis",
            mass_kg=round(0.55 * mass, 3),
            x_mm=round(axle.wheelbase_mm / 2 - ahead, 1),
            z_mm=round(0.8 * high, 1),
        ),
        Mass(name="turntable", mass_kg=round(0.15 * mass, 3), on="turntable", z_mm=1.8 * high),
        Mass(
            name="boom",
            mass_kg=round(0.08 * mass, 3),
            on="turntable",
            x_mm=round(axle.wheelbase_mm / 2, 1),
            z_mm=round(3 * high, 1),
        ),
        Mass(
            name="carriage", mass_kg=round(0.02 * mass, 3), on="carriage", z_mm=round(3 * high, 1)
        ),
        Mass(
            name="moving weight",
            mass_kg=round(0.1 * mass, 3),
            on="counterweight",
            z_mm=round(2 * high, 1),
        ),
        Mass(
            name="ballast",
            mass_kg=round(0.1 * mass, 3),
            on="turntable",
            x_mm=-round(0.2 * axle.wheelbase_mm, 1),
            z_mm=round(2 * high, 1),
            removable=True,
        ),
    )
    made = Balance(
        masses=masses,
        feet_ahead_mm=round(0.5 * axle.wheelbase_mm, 1),
        feet_behind_mm=round(0.5 * axle.wheelbase_mm, 1),
        feet_apart_mm=round(1.6 * axle.track_mm, 1),
        axis_ahead_mm=ahead,
        boom_mm=round(3 * high, 1),
        load_kg=round(0.1 * mass, 3),
    )
    return Edit.one("Plan a balance", ("balance",), made)


def remove_balance() -> Edit:
    """Take the balance away."""
    return Edit.one("Take the balance away", ("balance",), None)


MASS_FIELDS = ("name", "mass_kg", "on", "x_mm", "y_mm", "z_mm")
"""What of a mass may be typed, in the order in which it is shown."""


def type_mass(balance: Balance, number: int, field: str, text: str) -> Edit:
    """Set one field of a mass from what was typed.

    Raises
    ------
    InputError
        It is no number, or no place where a mass may be.
    """
    name = balance.masses[number].name
    value: object = text.strip()
    if field == "on":
        if value not in get_args(MassPlace):
            raise InputError(
                f"A mass is on the {', '.join(get_args(MassPlace))}; {text.strip()!r} is none of "
                "them."
            )
    elif field != "name":
        value = parse_number(text, what=f"{name}, {field.partition('_')[0]}")
    return Edit.one(f"Set {name}", ("balance", "masses", number, field), value)


def add_mass(vehicle: Vehicle) -> Edit:
    """Add a mass on the chassis."""
    balance = vehicle.balance or Balance()
    names = {mass.name for mass in balance.masses}
    name = next(n for n in (f"mass {k}" for k in range(1, len(names) + 2)) if n not in names)
    identity = MassId(vehicle.new_id(name, (mass.id for mass in balance.masses)))
    made = Mass(id=identity, name=name, mass_kg=0.1)
    return Edit.one("Add a mass", ("balance", "masses"), [*balance.masses, made])


def remove_mass(balance: Balance, number: int) -> Edit:
    """Take a mass away."""
    kept = [mass for n, mass in enumerate(balance.masses) if n != number]
    return Edit.one(f"Take {balance.masses[number].name} away", ("balance", "masses"), kept)


def move_boom(balance: Balance, slew_deg: float, reach_mm: float) -> Edit:
    """Turn the boom and move the carriage, no farther than its stops."""
    reach = min(max(reach_mm, balance.reach_low_mm), balance.reach_high_mm)
    return Edit(
        "Move the boom",
        (
            Change(("balance", "slew_deg"), round(slew_deg % 360.0, 1)),
            Change(("balance", "reach_mm"), round(reach, 1)),
        ),
    )


def ring_mm(vehicle: Vehicle) -> float | None:
    """Give the pitch circle of the first slewing ring; None where there is none."""
    outputs = vehicle.crane.outputs if vehicle.crane is not None else ()
    ring = next((o.end for o in outputs if isinstance(o.end, Ring)), None)
    return None if ring is None else ring.teeth * vehicle.kit.module_mm


def weight_share(vehicle: Vehicle) -> float | None:
    """Give the share of the carriage's way that the counterweight goes; None if it cannot be told.

    Where outputs of the crane are named it is theirs, both counting + outwards; else as typed.
    """
    balance = vehicle.balance
    if balance is None:
        return None
    if balance.carriage is None or balance.counterweight is None:
        return balance.weight_share
    figures = crane_figures(vehicle, None, vehicle.motor.working_rpm)
    return shares(figures, balance.carriage).get(balance.counterweight)


def balance_figures(vehicle: Vehicle) -> BalanceFigures | None:
    """Work a vehicle's balance out; None where none is planned."""
    return _worked_out(
        cache_key(vehicle, vehicle.kit, vehicle.motor, vehicle.balance, vehicle.axle)
    )


@lru_cache(maxsize=16)
def _worked_out(question: CacheKey) -> BalanceFigures | None:
    vehicle = question.vehicle
    balance = vehicle.balance
    if balance is None:
        return None
    share = weight_share(vehicle)
    base, track = vehicle.axle.wheelbase_mm, vehicle.axle.track_mm
    used = balance.weight_share if share is None else share
    ring = ring_mm(vehicle)
    ground = ground_under(balance, wheelbase_mm=base, track_mm=track)
    wheels = ground_under(
        balance.model_copy(update={"stands": "wheels"}), wheelbase_mm=base, track_mm=track
    )
    slew, reach = balance.slew_deg, balance.reach_mm
    sweep = _swept(_anywhere(balance), ground, used)
    return BalanceFigures(
        ground,
        used,
        standing(balance, ground, used, slew_deg=slew, reach_mm=reach, loaded=True),
        standing(balance, ground, used, slew_deg=slew, reach_mm=reach, loaded=False),
        sweep[0],
        sweep[1],
        standing(
            balance,
            wheels,
            used,
            slew_deg=0.0,
            reach_mm=balance.reach_low_mm,
            loaded=False,
            road=True,
        ),
        sweep[2],
        sweep[3],
        None if ring is None else on_ring(balance, used, ring, loaded=True),
    )


def with_boom(vehicle: Vehicle, slew_deg: float, reach_mm: float) -> Vehicle:
    """Give the vehicle with its boom held elsewhere, as while it is dragged."""
    balance = vehicle.balance
    if balance is None:
        return vehicle
    reach = min(max(reach_mm, balance.reach_low_mm), balance.reach_high_mm)
    held = balance.model_copy(update={"slew_deg": slew_deg % 360.0, "reach_mm": reach})
    return vehicle.model_copy(update={"balance": held})


def _anywhere(balance: Balance) -> Balance:
    """Forget where the boom is now, so that moving it asks for the same sweep again."""
    return balance.model_copy(update={"slew_deg": 0.0, "reach_mm": balance.reach_low_mm})


@lru_cache(maxsize=32)
def _swept(
    balance: Balance, ground: SlopedGround, share: float
) -> tuple[Stability, Stability, LoadChart, tuple[float, float] | None]:
    return (
        worst(balance, ground, share, loaded=True),
        worst(balance, ground, share, loaded=False),
        load_chart(balance, ground, share),
        ballast_window(balance, ground, share),
    )


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


def balance_faults(vehicle: Vehicle) -> Iterator[Finding]:
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
