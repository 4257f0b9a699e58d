"""Every architecture on the same targets, laid side by side."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from mild_badger.core.architectures.length import box_length_mm
from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import architecture_of, searches
from mild_badger.core.driveline.efficiency import mean_efficiency
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.lever.edits import lay_out_lever
from mild_badger.core.message import say, say_count
from mild_badger.core.ratios.box_question import BoxMatch, Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.propose import kept_trains, search_places
from mild_badger.core.ratios.ranges import RangeMatch, Speed, speeds_of
from mild_badger.core.ratios.train import gear_count, train_text
from mild_badger.core.targets.speeds import deviation_percent
from mild_badger.core.vehicle.box import LeverPlace, RangeSlot, Slot
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.workshop.parts import parts_needed

__all__ = [
    "Offer",
    "OfferRow",
    "compare_all",
    "compare_boxes",
    "lever_offer",
    "offer_of",
    "question_of",
]


@dataclass(frozen=True)
class OfferRow:
    """A gear of an offer: its train in words, ratio, error in per cent, and its place."""

    gear: str
    train: str
    ratio: Fraction
    error_percent: float
    place: str


@dataclass(frozen=True)
class Offer:
    """What an architecture comes to, gear by gear; without rows, the reason why there is none.

    ``within`` tells whether every gear keeps the tolerance; where none does the least worst error
    is offered. Length in mm is an estimate; ``short`` counts the parts missing in stock;
    ``efficiency`` is the mean share of the power that passes the box. ``speeds`` are those of a
    range × splitter box in their shift order.
    """

    kind: Kind
    title: str
    match: BoxMatch | None = None
    rows: tuple[OfferRow, ...] = ()
    reason: str = ""
    within: bool = False
    worst_error_percent: float = 0.0
    pairs: int = 0
    gears: int = 0
    length_mm: float = 0.0
    short: int = 0
    efficiency: float = 0.0
    note: str = ""
    speeds: tuple[Speed, ...] = ()

    def edit_for(self, vehicle: Vehicle) -> Edit | None:
        """Give the edit that puts the box into a vehicle as it stands by now; None for no box."""
        if self.kind == "lever":
            return lay_out_lever(vehicle) if self.rows else None
        return None if self.match is None else self.match.edit(vehicle)


def compare_boxes(
    vehicle: Vehicle, *, kinds: tuple[Kind, ...] | None = None, watch: Watch = UNWATCHED
) -> Iterator[Offer]:
    """Yield an offer for each architecture, as each is found, and last the stepless one."""
    yield from _geared(vehicle, tuple(searches()) if kinds is None else kinds, watch)
    yield lever_offer(vehicle)


def _geared(vehicle: Vehicle, kinds: tuple[Kind, ...], watch: Watch) -> Iterator[Offer]:
    for number, kind in enumerate(kinds):
        start = number / len(kinds)

        half = 0.5 / len(kinds)
        first, second = _part(watch, start, half), _part(watch, start + half, half)
        first.tick(0.0)
        matched = match_box(vehicle, kind, best="size", watch=first)
        within = not isinstance(matched, Impossible)
        if isinstance(matched, Impossible):
            reason = matched.reason
            matched = match_box(vehicle, kind, best="error", watch=second)
            if isinstance(matched, Impossible):
                yield Offer(kind, searches()[kind].title, reason=reason)
                continue
        yield offer_of(vehicle, matched, within=within)


def question_of(vehicle: Vehicle) -> object:
    """Give what a comparison depends on, to tell a stale one; taking its box is no new question."""
    box = vehicle.box
    kept = tuple((s.gear, kept_trains(box, s.gear)) for s in box.slots if s.kept)
    alternate = box.free_trains and box.turns > 0 and any(box.flips(s.gear) for s in box.slots)
    places = search_places(vehicle) if alternate else ()  # directions by column
    return (
        vehicle.real,
        vehicle.search,
        vehicle.kit,
        vehicle.final_drive.pairs,
        kept,
        places,
        vehicle.lever_drive,
    )


def compare_all(vehicle: Vehicle, *, watch: Watch = UNWATCHED) -> tuple[Offer, ...]:
    """Give the offers of every architecture at once."""
    return tuple(compare_boxes(vehicle, watch=watch))


def _part(watch: Watch, start: float, share: float) -> Watch:
    """Watch one part of the whole."""
    return Watch(
        stop=watch.stop, report=lambda done, best: watch.report(start + share * done, best)
    )


def offer_of(vehicle: Vehicle, matched: BoxMatch, *, within: bool) -> Offer:
    """Work out what a match comes to in a vehicle."""
    after = apply_edit(vehicle, matched.edit(vehicle))
    speeds: tuple[Speed, ...] = ()
    tolerance = vehicle.search.tolerance_percent / 100
    if isinstance(matched.match, RangeMatch):
        speeds = speeds_of(matched.match, tolerance)
    return Offer(
        kind=matched.kind,
        title=matched.title,
        match=matched,
        rows=_rows(matched),
        within=within,
        worst_error_percent=matched.found.worst_error_percent,
        pairs=matched.found.cost.pairs,
        gears=matched.found.cost.gears,
        length_mm=box_length_mm(matched.box, vehicle.kit),
        short=sum(part.short for part in parts_needed(after)),
        efficiency=mean_efficiency(after) or 0.0,
        note=_note(matched, speeds),
        speeds=speeds,
    )


def _rows(matched: BoxMatch) -> tuple[OfferRow, ...]:
    rows = []
    for gear in matched.found.gears:
        slot = matched.box.slot(gear.goal.gear)
        train = train_text(gear.train) or "direct"
        where = ""
        if isinstance(slot, Slot):
            train += f"  +  {train_text(slot.second)}" if slot.second else ""
            where = say("compare.column", column=slot.column, face=slot.face)
        elif isinstance(slot, RangeSlot):
            where = say("compare.splitter-range", splitter=slot.splitter, range=slot.range)
        rows.append(OfferRow(gear.goal.name, train, gear.ratio, gear.error_percent, where))
    return tuple(rows)


def lever_offer(vehicle: Vehicle) -> Offer:
    """Work out what a stepless lever drive comes to: exact but for whole teeth, without reverse."""
    after = apply_edit(vehicle, lay_out_lever(vehicle))
    box, shown = after.box, evaluate(after)
    title = box.title
    rows, backwards = [], False
    for gear in shown.gears:
        slot = box.slot(gear.id)
        backwards |= gear.reverse
        if isinstance(slot, LeverPlace) and gear.ratio is not None:
            rows.append(
                OfferRow(
                    gear.name,
                    train_text(gear.train) or "none",
                    gear.ratio,
                    gear.error_percent or 0.0,
                    say("compare.fulcrum", fulcrum_mm=in_mm(slot.fulcrum_mm)),
                )
            )
    drive = box.lever
    if not rows or drive is None:
        return Offer("lever", title, reason=say("compare.no-target-lies-between-the-stops-of-the"))
    forward = [gear for gear in shown.gears if not gear.reverse]
    worst = max(deviation_percent(row.error_percent) for row in rows)
    all_there = len(rows) == len(forward) and not backwards
    return Offer(
        "lever",
        title,
        rows=tuple(rows),
        within=all_there and worst <= vehicle.search.tolerance_percent,
        worst_error_percent=worst,
        pairs=len(drive.pairs),
        gears=gear_count(drive.pairs),
        length_mm=box_length_mm(box, vehicle.kit),
        short=sum(p.short for p in shown.parts),
        efficiency=mean_efficiency(after) or 0.0,
        note=say("compare.stepless-ratchets", ratchets=drive.ratchets)
        + (say("compare.no-reverse") if backwards else ""),
    )


def _note(matched: BoxMatch, speeds: tuple[Speed, ...]) -> str:
    parts = []
    match, box = matched.match, matched.box
    if isinstance(match, RangeMatch):
        plain = sum(1 for pair in match.ranges if not pair.idlers)
        parts.append(f"{len(match.splitter)} × {plain}")
        spare = sum(1 for speed in speeds if speed.gear is None)
        near = sum(1 for speed in speeds if speed.near)
        parts += [say("compare.spare", spare=spare)] if spare else []
        parts += [say("compare.nearly-alike", near=near)] if near else []
    parts += architecture_of(box).remark(matched)
    sums = sum(1 for slot in box.slots if getattr(slot, "second", ()))
    parts += [say_count("count.summing-differential", sums)] if sums else []
    parts += [] if matched.proven else [say("compare.not-proven-the-best")]
    return ", ".join(parts)
