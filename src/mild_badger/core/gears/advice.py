"""Advice a builder would give: what works, but could be wiser. Notes and warnings, never errors."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from math import gcd, pi

from mild_badger.core.components.gear_ring import form_of
from mild_badger.core.figures import in_mm, in_module
from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.mesh.shift import least_sound_teeth, undercut_shift
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.pool import IMPOSSIBLE, RatioTable, train_cost, unpack
from mild_badger.core.ratios.propose import slot_pool, trains_are_quick, wanted_parity
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import GearResult
from mild_badger.core.templates.undercut import contact_left
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["CUTTER_WIDTHS", "advice", "hunts", "turns_to_repeat"]

CUTTER_WIDTHS = 3
"""A tooth takes three nozzle or cutter widths at the pitch circle; common practice, no source."""


def hunts(pair: GearPair) -> bool:
    """Whether a pair has a hunting tooth: every tooth meets every other, so wear spreads evenly.

    Tooth counts without a common divisor (Merritt, *Gear Trains*, from memory).
    """
    return gcd(pair.driver, pair.driven) == 1


def turns_to_repeat(pair: GearPair) -> int:
    """Count the driver's turns after which the same teeth meet again: z_driven / gcd."""
    return pair.driven // gcd(pair.driver, pair.driven)


def advice(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    """Give all advice on a vehicle's box."""
    yield from _undercut(vehicle, gears)
    yield from _fine_teeth(vehicle)
    yield from _hull(vehicle, gears)
    yield from _steps(vehicle, gears)
    yield from _doubled(vehicle, gears)
    yield from _hunting(vehicle, gears)
    if vehicle.box.free_trains and trains_are_quick(vehicle):
        pool = slot_pool(vehicle)
        for gear in gears:
            yield from _smaller(vehicle, gear, pool)


def _sizes_used(gears: tuple[GearResult, ...]) -> dict[int, list[str]]:
    used: dict[int, list[str]] = {}
    for gear in gears:
        for pair in (*gear.train, *gear.second):
            for teeth in (pair.driver, pair.driven, *pair.idlers):
                names = used.setdefault(teeth, [])
                if gear.id not in names:
                    names.append(gear.id)
    return used


def _undercut(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    kit = vehicle.kit
    if not kit.any_seat:
        return  # moulded teeth are what they are; the mould maker has seen to it
    angle = kit.pressure_angle_deg
    found = [
        (mesh, gear.id)
        for gear in gears
        for mesh in _meshes(kit, gear)
        if any(teeth < least_sound_teeth(angle, shift) for teeth, shift in mesh.gears)
    ]
    if not found:
        return
    meshes = {mesh for mesh, _ in found}
    under = {
        one for mesh in meshes for one in mesh.gears if one[0] < least_sound_teeth(angle, one[1])
    }
    # the gear that falls short by most, by the shift that it is made with
    least, made = max(under, key=lambda one: (least_sound_teeth(angle, one[1]) - one[0], -one[0]))
    limit = least_sound_teeth(angle, made)
    shift = undercut_shift(least, angle)
    where = tuple(dict.fromkeys(name for _, name in found))
    left = min(
        contact_left(*(form_of(kit, *one) for one in mesh.gears), mesh.centre_mm) for mesh in meshes
    )
    yield Finding(
        Severity.NOTE if left >= kit.smooth_contact else Severity.WARNING,
        "undercut",
        where,
        say("gears.undercut-teeth", listed=", ".join(map(str, sorted({z for z, _ in under})))),
        say(
            "gears.at-teeth-of-a-gear-with-fewer-than-are-cut",
            pressure_angle_deg=angle,
            made=say("gears.made-with-a-shift", made=made) if made else "",
            limit=limit,
            least=least,
            shift=shift,
            left=left,
            smooth=kit.smooth_contact,
        ),
        figure=least,
        limit=limit,
        unit="teeth",
    )


@dataclass(frozen=True)
class _Mesh:
    """Two gears by their teeth and profile shifts, and how far apart they run, mm."""

    gears: tuple[tuple[int, float], tuple[int, float]]
    centre_mm: float


def _meshes(kit: Kit, gear: GearResult) -> Iterator[_Mesh]:
    """List what meshes in a gear's trains, with the shifts that its pairs are made with."""
    shifts = (*gear.shifts, *(None for _ in gear.second))
    for pair, shift in zip((*gear.train, *gear.second), shifts, strict=True):
        if shift is not None:
            both = (pair.driver, shift.driver), (pair.driven, shift.driven)
            yield _Mesh(both, shift.centre_distance_mm)
            continue
        for one, other in pairwise((pair.driver, *pair.idlers, pair.driven)):
            yield _Mesh(((one, 0.0), (other, 0.0)), (one + other) * kit.module_mm / 2)


def _fine_teeth(vehicle: Vehicle) -> Iterator[Finding]:
    kit = vehicle.kit
    if kit.cutter_mm is None:
        return
    thick = pi * kit.module_mm / 2
    if thick < CUTTER_WIDTHS * kit.cutter_mm:
        least = 2 * CUTTER_WIDTHS * kit.cutter_mm / pi
        yield Finding(
            Severity.WARNING,
            "teeth-too-fine",
            ("box",),
            say("gears.teeth-too-fine-for-the-nozzle-or-cutter"),
            say(
                "gears.at-a-tooth-is-thick-a-nozzle-or-cutter-wants",
                module_mm=in_module(kit.module_mm),
                thick=in_mm(thick, 2),
                cutter_mm=in_mm(kit.cutter_mm),
                cutter_widths=CUTTER_WIDTHS,
                least=in_module(round(least, 2)),
            ),
            figure=thick,
            limit=CUTTER_WIDTHS * kit.cutter_mm,
            unit="mm",
        )


def _hull(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    room = vehicle.search.hull_mm
    if room is None:
        return
    tips = {
        z: size.tip_diameter_mm
        for z in _sizes_used(gears)
        if (size := vehicle.kit.size(z)) is not None and size.tip_diameter_mm > room
    }
    if tips:
        biggest = max(tips)
        yield Finding(
            Severity.WARNING,
            "too-big-for-hull",
            tuple(_sizes_used(gears)[biggest]),
            say("gears.the-tooth-gear-is-too-big-for-the-body", biggest=biggest),
            say(
                "gears.its-tip-diameter-is-the-body-leaves-choose-a",
                tips=in_mm(tips[biggest]),
                room=in_mm(room),
            ),
            figure=tips[biggest],
            limit=room,
            unit="mm",
        )


def _forward(gears: tuple[GearResult, ...]) -> list[tuple[str, float]]:
    return [
        (gear.id, abs(float(gear.ratio)))
        for gear in gears
        if not gear.reverse and gear.ratio is not None
    ]


def _steps(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    forward = _forward(gears)
    limit = vehicle.search.step_unevenness_percent
    steps = [(a[0], b[0], a[1] / b[1]) for a, b in pairwise(forward)]
    worst = (0.0, "", "")
    for (low, _, one), (_, high, other) in pairwise(steps):
        uneven = 100 * (max(one / other, other / one) - 1)
        if min(one, other) > 1:
            worst = max(worst, (uneven, f"{low}–{high}", say("gears.and", one=one, other=other)))
    if worst[0] > limit:
        yield Finding(
            Severity.NOTE,
            "uneven-steps",
            ("box",),
            say("gears.steps-uneven-by-over", worst=worst[0], worst_2=worst[1]),
            say("gears.neighbouring-steps-are-the-amount-you-set-is", worst=worst[2], limit=limit),
            figure=worst[0],
            limit=limit,
            unit="%",
        )


def _doubled(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    limit = 1 + vehicle.search.tolerance_percent / 100
    wanted = {gear.id: gear.target for gear in gears}
    ordered = sorted(_forward(gears), key=lambda row: -row[1])
    for (one, high), (other, low) in pairwise(ordered):
        apart = wanted[one] / wanted[other]
        if 1 < high / low <= limit < max(apart, 1 / apart):
            yield Finding(
                Severity.WARNING,
                "doubled-speed",
                (one, other),
                say("gears.gears-and-are-nearly-the-same", one=one, other=other),
                say("gears.and-turns-in-for-one-out-one-of-them-is", high=high, low=low),
                figure=100 * (high / low - 1),
                limit=vehicle.search.tolerance_percent,
                unit="%",
            )


def _hunting(vehicle: Vehicle, gears: tuple[GearResult, ...]) -> Iterator[Finding]:
    if not vehicle.kit.any_seat:
        return  # brick sizes all share the divisor four: there is nothing to choose
    pairs = dict.fromkeys(
        (p.driver, p.driven) for gear in gears for p in gear.train if not hunts(p)
    )
    if pairs:
        shown = ", ".join(f"{a}:{b}" for a, b in list(pairs)[:4])
        more = say("gears.and-more", count_of_pairs=len(pairs) - 4) if len(pairs) > 4 else ""
        yield Finding(
            Severity.NOTE,
            "no-hunting-tooth",
            ("box",),
            say("gears.without-a-hunting-tooth", pair=say_count("count.pair", len(pairs))),
            say("gears.in-the-same-teeth-keep-meeting-so-a-faulty", shown=shown, more=more),
            figure=len(pairs),
            limit=0,
            unit="pairs",
        )


def _smaller(vehicle: Vehicle, gear: GearResult, pool: RatioTable) -> Iterator[Finding]:
    """Point out a cheaper train of the very same ratio: fewer pairs, then gears, then teeth."""
    if gear.second or not gear.own or gear.ratio is None or vehicle.layout is not None:
        return  # a placed train is as long as its place asks for
    index = pool.find(abs(gear.ratio))
    parity = wanted_parity(vehicle, gear.id)
    if index is None or pool.ratio_cost[parity, index] >= IMPOSSIBLE:
        return
    now, least = unpack(train_cost(gear.own)), unpack(int(pool.ratio_cost[parity, index]))
    if least >= now:
        return
    train = pool.train(int(pool.ratio_choice[parity, index]), parity)
    label = say("gears.use", train=train_text(train))
    yield Finding(
        Severity.NOTE,
        "smaller-gears",
        (gear.id,),
        say("gears.gear-could-be-smaller", name=gear.name),
        say(
            "gears.gives-the-same-ratio-with-gears-of-teeth-in",
            train=train_text(train),
            gears=least.gears,
            teeth=least.teeth,
            gears_2=now.gears,
            teeth_2=now.teeth,
        ),
        figure=now.teeth,
        limit=least.teeth,
        unit="teeth",
        mend=Edit(label, set_train(vehicle, gear.id, train).changes),
    )
