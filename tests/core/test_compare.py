"""Comparison, ways out and the change gear: each says what is really so."""

import json
from fractions import Fraction
from itertools import pairwise

import pytest

from examples import example_vehicle
from mild_badger.core.architectures.length import box_length_mm
from mild_badger.core.architectures.match import match_box, trade_offs_for
from mild_badger.core.architectures.registry import architecture_of, searches
from mild_badger.core.architectures.relax import ways_out
from mild_badger.core.architectures.scheme import Scheme
from mild_badger.core.compare import compare_boxes, lever_offer, question_of
from mild_badger.core.errors import KitError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.gear_alternatives import change_gear_swaps, change_places, swaps
from mild_badger.core.kit.catalogue import kit_text, read_kit, shipped_kit, shipped_kits
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.message import say
from mild_badger.core.performance.chart import saw_teeth
from mild_badger.core.ratios.final_drive import factor_range, final_drive_offer, final_drive_range
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.propose import pairs_for_gear, trains_for_gear
from mild_badger.core.ratios.train import parse_train, train_ratio
from mild_badger.core.targets.speeds import real_speed_mm_s
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.demo import DEMOS, demo_vehicle
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.slots import keep_train
from mild_badger.core.vehicle.edit.trains import mark_change_gear
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.model import ChangeGear, Vehicle
from mild_badger.core.watch import SearchStopped, Watch
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.files.kit_file import kits_in
from strategies import brick, vehicle_of, with_search
from telling import tells


def tractor() -> Vehicle:
    return example_vehicle("larkholm-timber-tractor")


def test_the_saw_tooth_goes_up_through_the_gears() -> None:
    # a gear shifted at v leaves the engine at i_next / i of its speed
    bus = example_vehicle()
    saw = evaluate(bus).real_saw
    ratios = [g.ratio for g in bus.real.gears if not g.reverse]
    assert [leg.gear for leg in saw] == ["1", "2", "3", "4", "5", "6"]
    for leg, low, high in zip(saw[1:], ratios, ratios[1:], strict=False):
        assert leg.from_percent == pytest.approx(100 * high / low)
    top = km_per_hour(real_speed_mm_s(bus.real, ratios[-1], bus.real.limit_rpm))
    assert saw[-1].to_km_h == pytest.approx(top)
    early = bus.real.model_copy(update={"shift_rpm": bus.real.limit_rpm / 2})
    assert evaluate(bus.model_copy(update={"real": early})).real_saw[-1].to_km_h == (
        pytest.approx(top / 2)
    )
    assert saw_teeth({}) == ()


def test_every_architecture_is_compared_on_the_same_targets() -> None:
    vehicle = with_search(vehicle_of(3.0, 2.0, 1.3, 1.0), tolerance_percent=4.0)
    vehicle = vehicle.model_copy(update={"kit": small_wood()})
    told: list[float] = []
    watch = Watch(report=lambda share, _best: told.append(share))
    offers = list(compare_boxes(vehicle, watch=watch))
    assert [offer.kind for offer in offers] == [*searches(), "lever"]
    assert told == sorted(told)
    for offer in offers:
        edit = offer.edit_for(vehicle)
        assert edit is not None
        after = evaluate(apply_edit(vehicle, edit))
        # what the comparison says is what the one solver says of the box when it is taken
        assert after.worst_error_percent == pytest.approx(offer.worst_error_percent, abs=1e-6)
        assert [g.direction for g in after.gears] == [1, 1, 1, 1]
        assert offer.within == (offer.worst_error_percent <= 4 + 1e-9)
        assert offer.length_mm == box_length_mm(after.vehicle.box, vehicle.kit)
        assert [row.ratio for row in offer.rows] == [g.ratio and abs(g.ratio) for g in after.gears]
        assert offer.short == sum(p.short for p in parts_needed(after.vehicle))
    ranged = next(o for o in offers if o.kind == "range-splitter")
    assert ranged.note.startswith("2 × 2")
    assert len(ranged.speeds) == 4


def test_a_lever_drive_is_offered_without_a_reverse() -> None:
    bus = example_vehicle()
    offer = lever_offer(bus)
    edit = offer.edit_for(bus)
    assert edit is not None
    assert not offer.within
    assert "3 ratchets" in offer.note
    assert tells(offer.note, "compare.no-reverse")
    assert [row.gear for row in offer.rows] == ["1", "2", "3", "4", "5", "6"]
    after = apply_edit(bus, edit)
    assert after.box.architecture == "lever"
    assert offer.worst_error_percent < 10
    far = bus.model_copy(update={"lever_drive": LeverDrive(teeth=6, throw_mm=1.0)})
    assert lever_offer(far).reason == say("compare.no-target-lies-between-the-stops-of-the")
    assert lever_offer(far).edit_for(far) is None
    assert question_of(bus) != question_of(far)
    assert question_of(bus) == question_of(after)  # its box is taken: the comparison still stands


def small_wood() -> Kit:
    kit = shipped_kit("wood-shop")
    assert kit.made is not None
    return kit.model_copy(update={"made": kit.made.model_copy(update={"most_teeth": 26})})


def test_a_comparison_stops_when_told() -> None:
    watch = Watch(stop=lambda: True)
    with pytest.raises(SearchStopped):
        list(compare_boxes(vehicle_of(2.0, 1.0), watch=watch))


def test_ways_out_really_lead_out() -> None:
    vehicle = with_search(vehicle_of(2.4, 1.1), max_pairs=1, tolerance_percent=2.0)
    assert isinstance(match_box(vehicle, "slot", best="size"), Impossible)
    ways = ways_out(vehicle, "slot")
    assert any("3 pairs" in w.words or "2 pairs" in w.words or "tolerance" in w.words for w in ways)
    for way in ways:
        eased = apply_edit(vehicle, way.edit)
        assert not isinstance(match_box(eased, "slot", best="size"), Impossible)
    scarce = brick().model_copy(
        update={"gears": tuple(g.model_copy(update={"stock": 1}) for g in brick().gears)}
    )
    short = with_search(vehicle_of(4.0, 3.9, 3.8), within_stock=True)
    short = short.model_copy(update={"kit": scarce})
    assert isinstance(match_box(short, "slot", best="size"), Impossible)
    assert say("architectures.leave-the-stock-out") in " ".join(
        w.words for w in ways_out(short, "slot")
    )


def test_stock_is_kept_with_rail_tie_and_final_drive_counted() -> None:
    bus = with_search(example_vehicle(), within_stock=True)
    tight = {8: 2, 12: 8, 16: 6, 20: 4, 24: 12, 28: 2, 36: 2, 40: 2}
    gears = tuple(
        g.model_copy(update={"stock": tight[g.teeth]}) if g.bore == "fixed" else g
        for g in bus.kit.gears
    )
    bus = bus.model_copy(update={"kit": bus.kit.model_copy(update={"gears": gears})})
    match = match_box(bus, "slot", best="size")
    assert not isinstance(match, Impossible)
    taken = apply_edit(bus, match.edit(bus))
    assert [p for p in parts_needed(taken) if p.short and p.key[0] in ("fixed", "free")] == []
    plain = match_box(with_search(bus, within_stock=False), "slot", best="size")
    assert not isinstance(plain, Impossible)
    assert match.found.cost >= plain.found.cost


def test_limits_bind_in_the_search_of_a_vehicle() -> None:
    bus = with_search(example_vehicle(), max_centre_mm=24.0, max_gears=5, tolerance_percent=8.5)
    match = match_box(bus, "slot", best="size")
    assert not isinstance(match, Impossible)
    for gear in match.found.gears:
        for pair in gear.train:
            row = (pair.driver, *pair.idlers, pair.driven)
            assert all(a + b <= 48 for a, b in pairwise(row))
        assert sum(2 + len(p.idlers) for p in gear.train) <= 5
    barred = bus.kit.model_copy(update={"barred": (8, 40)})
    match = match_box(bus.model_copy(update={"kit": barred}), "slot", best="error")
    assert not isinstance(match, Impossible)
    used = {z for g in match.found.gears for p in g.train for z in (p.driver, p.driven, *p.idlers)}
    assert not used & {8, 40}
    taken = bus.model_copy(update={"kit": barred})
    assert "barred" in [f.code for f in evaluate(taken).findings]


def test_the_factor_is_bounded_by_the_final_drives() -> None:
    bus = with_search(example_vehicle(), fit="spacing", factor_low=0.01, factor_high=100.0)
    free = factor_range(bus)
    bound = factor_range(with_search(bus, factor_bound="final drive"))
    drives = final_drive_range(bus)
    assert drives is not None
    assert free == (Fraction(1, 100), Fraction(100))
    wanted = Fraction("6.2")
    assert bound == (wanted / drives[1], min(wanted / drives[0], Fraction(100)))
    # 8:40 twice and the smallest pinion on the 28-tooth rim is the greatest the kit can make
    assert drives[1] == 25 * Fraction(28, 12)
    bare = bus.model_copy(update={"kit": bus.kit.model_copy(update={"bevels": ()})})
    assert final_drive_range(bare) is None
    assert factor_range(with_search(bare, factor_bound="final drive")) == free


def test_the_change_gear_lists_top_speeds() -> None:
    vehicle = tractor()
    gear, sizes = change_gear_swaps(vehicle)
    assert gear is not None
    assert gear.name == "5"  # the fastest
    now = next(s for s in sizes if s.present)
    for swap in sizes:
        if swap.mate is None and swap.speed_mm_s and now.speed_mm_s:
            # the driver of the final drive's spur pair: speed goes with its teeth
            assert swap.speed_mm_s / now.speed_mm_s == pytest.approx(swap.teeth / now.teeth)
    names = [words for words, _ in change_places(vehicle)]
    assert any(tells(words, "performance.teeth", name="input pair", teeth="12") for words in names)
    own = ChangeGear(train="gear 2", pair="0", role="driven")
    marked = apply_edit(vehicle, mark_change_gear(vehicle, own))
    gear, sizes = change_gear_swaps(marked)
    assert gear is not None
    assert gear.name == "2"
    assert all(s.mate is None or s.mate + s.teeth == 39 for s in sizes)  # the distance stays
    assert change_gear_swaps(apply_edit(vehicle, mark_change_gear(vehicle, None))) == (None, ())


def test_a_gear_between_shafts_changes_with_its_mate() -> None:
    found_sizes = swaps(tractor(), "1", 1, "driven")
    assert len(found_sizes) > 10
    for swap in found_sizes:
        pair = apply_edit(tractor(), swap.edit).box.chain("1")[1].pair
        assert abs(pair.driver + pair.driven - 39) <= 1
        assert swap.ratio == Fraction(27, 12) * Fraction(pair.driven, pair.driver)


def test_own_pairs_are_ranked_at_the_box_s_distance() -> None:
    offers = pairs_for_gear(tractor(), "3")
    assert offers[0].train == parse_train("19:20")
    errors = [abs(o.error_percent) for o in offers]
    assert errors[0] == min(errors)
    assert all(o.train[0].driver + o.train[0].driven == 39 for o in offers)
    assert offers[0].ratio == Fraction(27, 12) * train_ratio(offers[0].train)
    assert pairs_for_gear(example_vehicle(), "3") == ()
    assert trains_for_gear(example_vehicle(), "3")


@pytest.mark.parametrize("name", list(DEMOS))
def test_every_demo_is_sound(name: str) -> None:
    evaluation = evaluate(demo_vehicle(name))
    assert not [f for f in evaluation.findings if f.severity.value == "error"]
    assert all((gear.direction < 0) == gear.reverse for gear in evaluation.gears)


def box_scheme(vehicle: Vehicle, gear: str) -> Scheme | None:
    return architecture_of(vehicle.box).scheme(vehicle.box, gear)


def test_a_scheme_marks_what_is_engaged() -> None:
    scheme = box_scheme(tractor(), "2")
    assert scheme is not None
    assert {c.key for c in scheme.crossings if c.active} == {"input pair", "gear 2"}
    assert [c.position for c in scheme.couplings].count("back") == 1
    assert box_scheme(example_vehicle(), "2") is None
    direct = box_scheme(tractor(), "5")
    assert direct is not None
    assert not any(c.active for c in direct.crossings)


def test_trade_offs_against_lost_power() -> None:
    bus = example_vehicle()
    by_gears = trade_offs_for(bus)
    by_loss = trade_offs_for(bus, against="loss")
    assert by_gears
    assert by_loss
    assert by_gears[-1].worst_error_percent == pytest.approx(by_loss[-1].worst_error_percent)
    assert trade_offs_for(tractor()) == ()


@pytest.mark.parametrize("name", shipped_kits())
def test_shipped_kits_read_back(name: str) -> None:
    kit = shipped_kit(name)
    assert read_kit(kit_text(kit), source="x") == kit
    offer = final_drive_offer(vehicle_of(2.0).model_copy(update={"kit": kit}))
    assert offer is not None


def test_kits_of_a_folder_are_listed(tmp_path_factory: pytest.TempPathFactory) -> None:
    folder = tmp_path_factory.mktemp("kits")
    assert kits_in(folder / "none") == ()
    (folder / "a.kit.json").write_text("{}")
    assert [path.name for path in kits_in(folder)] == ["a.kit.json"]


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"gears": [], "made": None}, "has no gears"),
        (
            {"barred": list(range(10, 61))},
            say("vehicle.every-size-of-the-kit-is-barred-let-some-be"),
        ),
        ({"kind": "cheese"}, "Kind of kit: “cheese”"),
    ],
)
def test_kits_that_cannot_be_are_named(change: dict[str, object], word: str) -> None:
    data = shipped_kit("wood-shop").model_dump(mode="json") | change
    body = json.dumps({"format": "mild-badger kit", "version": 2, "kit": data})
    with pytest.raises(KitError, match="mine") as refused:
        read_kit(body, source="mine.kit.json")
    assert word.lower() in str(refused.value).lower()


def test_a_comparison_grows_stale_with_its_question_only() -> None:
    bus = example_vehicle()
    asked = question_of(bus)
    taken = match_box(bus, "two-shaft", best="error")
    assert not isinstance(taken, Impossible)
    assert question_of(apply_edit(bus, taken.edit(bus))) == asked
    assert question_of(apply_edit(bus, keep_train(bus, "3", kept=True))) != asked
    assert question_of(with_search(bus, tolerance_percent=1.0)) != asked
