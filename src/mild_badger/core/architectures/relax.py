"""When nothing fits: which single limit to relax so that something does."""

from collections.abc import Iterator
from dataclasses import dataclass

from mild_badger.core.architectures.match import match_box
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import Kind
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.box import MAX_PAIRS
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.change import Change, Edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.words import capitalized

__all__ = ["WayOut", "ways_out"]


@dataclass(frozen=True)
class WayOut:
    """One limit relaxed, in words with what it brings, and the edit that relaxes it."""

    words: str
    edit: Edit


def ways_out(vehicle: Vehicle, kind: Kind, *, watch: Watch = UNWATCHED) -> tuple[WayOut, ...]:
    """Try each limit of the search by itself, and list the ones whose relaxing lets a set be.

    The tolerance first, with the least worst error there is; then every limit that binds.
    """
    ways = []
    nearest = match_box(vehicle, kind, best="error", watch=watch)
    if not isinstance(nearest, Impossible) and nearest.found.worst_error_percent <= 50:
        worst = round(nearest.found.worst_error_percent + 0.005, 2)
        change = Change(("search", "tolerance_percent"), worst)
        ways.append(
            WayOut(
                say("architectures.raise-the-tolerance-to", worst=worst),
                Edit(say("architectures.raise-it"), (change,)),
            )
        )
    for words, change in _limits(vehicle):
        edit = Edit(f"{capitalized(words)}", (change,))
        match = match_box(apply_edit(vehicle, edit), kind, best="size", watch=watch)
        if not isinstance(match, Impossible):
            cost = match.found.cost
            ways.append(
                WayOut(
                    say(
                        "architectures.pairs-gears", words=words, pairs=cost.pairs, gears=cost.gears
                    ),
                    edit,
                )
            )
    return tuple(ways)


def _limits(vehicle: Vehicle) -> Iterator[tuple[str, Change]]:
    search = vehicle.search
    if search.max_pairs < min(MAX_PAIRS, 3):
        more = search.max_pairs + 1
        yield say("architectures.allow-pairs", more=more), Change(("search", "max_pairs"), more)
    if search.within_stock:
        yield say("architectures.leave-the-stock-out"), Change(("search", "within_stock"), False)
    if search.max_gears is not None:
        yield (
            say("architectures.allow-more-gears-in-a-train"),
            Change(("search", "max_gears"), None),
        )
    if search.max_centre_mm is not None:
        yield (
            say("architectures.allow-a-greater-centre-distance"),
            Change(("search", "max_centre_mm"), None),
        )
    if search.seated and not vehicle.kit.any_seat:
        yield say("architectures.leave-the-grid-out"), Change(("search", "seated"), False)
    if vehicle.kit.any_seat and not search.profile_shift:
        yield say("architectures.allow-profile-shift"), Change(("search", "profile_shift"), True)
    if vehicle.kit.barred:
        yield say("architectures.let-barred-sizes-be-used"), Change(("kit", "barred"), ())
    if search.fit == "absolute":
        yield say("architectures.match-the-spacing-only"), Change(("search", "fit"), "spacing")
    elif search.factor_bound == "final drive":
        yield (
            say("architectures.free-the-factor-of-the-final-drives"),
            Change(("search", "factor_bound"), "range"),
        )
