"""When nothing fits: every way out that is named leads out, with what it promises."""

import re

import pytest

from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.relax import ways_out
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.message import say
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import Vehicle
from strategies import brick, vehicle_of
from telling import tells


def asked(*ratios: float, kit: Kit | None = None, **settings: object) -> Vehicle:
    vehicle = vehicle_of(*ratios)
    search = vehicle.search.model_copy(update={"seated": False, **settings})
    return vehicle.model_copy(update={"search": search, "kit": kit or brick()})


BARRED = brick().model_copy(update={"barred": (8,)})
POOR = brick().model_copy(
    update={"gears": tuple(g.model_copy(update={"stock": 1}) for g in brick().gears[:6])}
)

CASES: dict[str, Vehicle] = {
    say("architectures.allow-pairs", more=2): asked(9.0, max_pairs=1),
    say("architectures.allow-pairs", more=3): asked(62.5, max_pairs=2),
    say("architectures.leave-the-stock-out"): asked(3.0, 3.0, 3.0, within_stock=True, kit=POOR),
    say("architectures.allow-more-gears-in-a-train"): asked(6.0, max_gears=3),
    say("architectures.allow-a-greater-centre-distance"): asked(9.0, max_centre_mm=16.0),
    say("architectures.leave-the-grid-out"): asked(
        0.1, max_pairs=2, max_gears=4, seated=True, tolerance_percent=0.1
    ),
    say("architectures.let-barred-sizes-be-used"): asked(2.5, max_pairs=1, kit=BARRED),
    say("architectures.match-the-spacing-only"): asked(3.0, 1.5, max_pairs=1),
}


@pytest.mark.parametrize("words", CASES)
def test_the_limit_that_binds_is_named_and_relaxing_it_helps(words: str) -> None:
    vehicle = CASES[words]
    assert isinstance(match_box(vehicle, "slot", best="size"), Impossible)
    ways = ways_out(vehicle, "slot")
    assert any(way.words.startswith(words) for way in ways), [way.words for way in ways]
    for way in ways:
        after = match_box(apply_edit(vehicle, way.edit), "slot", best="size")
        assert not isinstance(after, Impossible), way.words
        promised = re.search(r"\((\d+) pairs, (\d+) gears\)", way.words)
        if promised:
            assert (after.found.cost.pairs, after.found.cost.gears) == (
                int(promised[1]),
                int(promised[2]),
            )


def test_the_tolerance_to_raise_it_to_is_the_least_there_is() -> None:
    vehicle = asked(9.0, max_pairs=1)
    (first, *_) = ways_out(vehicle, "slot")
    # one pair ends on 16 or 20 teeth with dog faces, 20 : 8 at most: 9/2.5 − 1 = 260 %, no advice
    assert not tells(first.words, "architectures.raise-the-tolerance-to")
    near = asked(2.7, max_pairs=1)
    (first, *_) = ways_out(near, "slot")
    assert first.words == say("architectures.raise-the-tolerance-to", worst=8.01)
    raised = apply_edit(near, first.edit)
    assert not isinstance(match_box(raised, "slot", best="size"), Impossible)
    lower = raised.search.model_copy(update={"tolerance_percent": 7.9})
    tight = raised.model_copy(update={"search": lower})
    assert isinstance(match_box(tight, "slot", best="size"), Impossible)


def test_made_gears_may_shift_the_profile() -> None:
    # 16 : 24 = 1.5 and 20 : 21 = 1.05 have the sums 40 and 41
    wood = shipped_kit("wood-shop")
    barred = tuple(z for z in wood.sizes if z not in {16, 20, 21, 24})
    few = wood.model_copy(update={"barred": barred})
    vehicle = asked(1.5, 1.05, kit=few, tolerance_percent=0.1)
    assert isinstance(match_box(vehicle, "two-shaft", best="size"), Impossible)
    (way,) = [w for w in ways_out(vehicle, "two-shaft") if w.words.startswith("allow profile")]
    after = match_box(apply_edit(vehicle, way.edit), "two-shaft", best="size")
    assert not isinstance(after, Impossible)
    assert [[(p.driver, p.driven) for p in g.train] for g in after.found.gears] == [
        [(16, 24)],
        [(20, 21)],
    ]
