"""Cables over levers with holes: the law of the lever, work in and out, all choices tried."""

from itertools import permutations, product
from math import asin, degrees, radians, sin

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from examples import example_vehicle
from mild_badger.core.mechanisms.cables.describe import describe_cables
from mild_badger.core.mechanisms.cables.edits import (
    add_cables,
    add_run,
    apply_best_holes,
    apply_holes,
    remove_cables,
    remove_run,
    set_levers,
)
from mild_badger.core.mechanisms.cables.findings import cables_findings
from mild_badger.core.mechanisms.cables.model import CableRun, Cables, HoledLever
from mild_badger.core.mechanisms.cables.strokes import hole_rows, stroke_rows
from mild_badger.core.mechanisms.cables.travel import (
    HoleChoice,
    best_holes,
    choices,
    leans_deg,
    pull_n,
    run_figures,
    with_holes,
)
from mild_badger.core.message import say
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from telling import Told, refuses, tells, told

BUS = example_vehicle()


def of(cables: Cables) -> Vehicle:
    return BUS.model_copy(update={"cables": cables})


def codes(cables: Cables) -> set[str]:
    return {finding.code for finding in cables_findings(of(cables))}


def test_travels_stand_as_the_holes() -> None:
    """24 mm at 40 mm give 24 · 16 / 40 = 9.6 at hole 2; less 0.6 slack, from 8 out to 32: 36."""
    run = CableRun(name="flap", from_hole=2, slack_mm=0.6, levers=(HoledLever(takes=1, gives=4),))
    found = run_figures(Cables(), run)
    assert found.travels == pytest.approx((9.6, 36.0))
    assert found.swings == pytest.approx((2 * degrees(asin(12 / 40)), 2 * degrees(asin(4.5 / 8))))
    assert found.starts == pytest.approx(0.6 / 9.6)
    assert found.jams == ""
    assert run_figures(Cables(), run, 1 / 24).travel == 0  # all of it into the slack


arms = st.lists(st.floats(4, 60), min_size=2, max_size=5, unique=True).map(tuple)
levers = st.builds(
    lambda holes, a, b: HoledLever(
        holes_mm=holes, takes=1 + a % len(holes), gives=1 + b % len(holes), swing_deg=80
    ),
    arms,
    st.integers(0, 9),
    st.integers(0, 9),
)


@given(arms, st.lists(levers, max_size=2).map(tuple), st.floats(1, 20), st.floats(0, 0.5))
def test_work_in_is_work_out_and_the_sheath(
    holes: tuple[float, ...], on_way: tuple[HoledLever, ...], stroke: float, loss: float
) -> None:
    run = CableRun(name="a", levers=on_way, slack_mm=0, loss=loss, push_n=3.0)
    cables = Cables(holes_mm=holes, stroke_mm=stroke, runs=(run,))
    found = run_figures(cables, run)
    assert pull_n(cables, run) * stroke * (1 - loss) == pytest.approx(3.0 * found.travel, rel=1e-9)


@settings(max_examples=40, deadline=None)
@given(arms, st.lists(levers, max_size=2).map(tuple), st.floats(2, 40), st.floats(2, 60))
def test_the_best_holes_are_the_best_of_all(
    holes: tuple[float, ...], on_way: tuple[HoledLever, ...], stroke: float, wanted: float
) -> None:
    run = CableRun(name="a", levers=on_way, wanted_mm=wanted)
    cables = Cables(holes_mm=holes, stroke_mm=stroke, hand_mm=50, runs=(run,))
    best = None
    spans = [range(1, len(lever.holes_mm) + 1) for lever in on_way]
    pairs = [product(span, span) for span in spans]
    for start, ways in product(range(1, len(holes) + 1), list(product(*pairs))):
        tried = with_holes(run, HoleChoice(start, ways, 0.0, 0.0))
        found = run_figures(cables, tried)
        if not found.jams and (best is None or abs(found.error_percent) < best):
            best = abs(found.error_percent)
    listed = choices(cables, run)
    if best is None:
        assert listed == ()
        return
    assert abs(listed[0].error_percent) == pytest.approx(best, abs=1e-6)
    again = run_figures(cables, with_holes(run, listed[0]))
    assert again.travel == pytest.approx(listed[0].travel)
    assert again.jams == ""


def test_two_cables_that_may_not_share_a_hole_do_best_together() -> None:
    runs = (
        CableRun(name="a", levers=(), wanted_mm=9.5),
        CableRun(name="b", levers=(), wanted_mm=9.0),
        CableRun(name="c", levers=(), wanted_mm=19.0),
    )
    cables = Cables(runs=runs)
    found = best_holes(cables)
    assert found is not None
    tried = []
    for holes in permutations(range(1, 5), 3):
        off = [
            run_figures(cables, run.model_copy(update={"from_hole": hole})).error_percent
            for run, hole in zip(runs, holes, strict=True)
        ]
        tried.append((sum(e * e for e in off), holes))
    assert tuple(choice.from_hole for choice in found) == min(tried)[1]
    together = best_holes(cables.model_copy(update={"apart": False}))
    assert together is not None
    assert [choice.from_hole for choice in together] == [2, 2, 4]
    assert best_holes(cables.model_copy(update={"holes_mm": (8.0, 16.0)})) is None


def test_a_flap_and_the_motor_keep_step() -> None:
    vehicle = apply_edit(BUS, add_cables())
    assert vehicle.cables is not None
    best = apply_best_holes(vehicle.cables)
    assert best is not None
    vehicle = apply_edit(vehicle, best)
    rows = stroke_rows(vehicle)
    assert (rows[0].share, rows[-1].share) == (0.0, 1.0)
    assert rows[0].motor_rpm == 0
    assert rows[-1].motor_rpm == pytest.approx(
        BUS.motor.working_rpm * min(rows[-1].travels[1] / 14.0, 1)
    )
    assert tells(
        describe_cables(vehicle),
        "cables.and-are-up-to-of-their-ways-apart",
        name="flap",
        name_2="motor speed",
    )
    # hole 2, then 16 → 24 mm: (12 · 16/40 − 0.3) · 1.5 = 6.75 of 14 mm, of 3200 rpm
    assert tells(
        describe_cables(vehicle), "cables.at-half-the-stroke-the-motor-at-rpm", motor_rpm="1543"
    )
    assert not list(cables_findings(vehicle))
    parts = {line.name: line.needed for line in parts_needed(vehicle)}
    assert (
        parts[say("workshop.lever-with-a-row-of-holes")],
        parts[say("workshop.cable-in-its-sheath")],
    ) == (3, 2)
    assert apply_edit(vehicle, remove_cables()).cables is None
    assert describe_cables(BUS) == ""
    assert stroke_rows(BUS) == ()


@pytest.mark.parametrize(
    ("update", "code"),
    [
        ({"wanted_mm": 20.0}, "cable-travel"),
        ({"from_hole": 2}, "hole-shared"),
        ({"slack_mm": 4.0, "wanted_mm": 5.6}, "cables-apart"),
        ({"levers": (HoledLever(holes_mm=(2.0, 8.0), takes=1, gives=2),)}, "cable-jams"),
    ],
)
def test_what_does_not_pull_right_is_a_finding(update: dict[str, object], code: str) -> None:
    good = CableRun(name="a", levers=(), from_hole=1, wanted_mm=4.5)
    other = CableRun(name="b", levers=(), from_hole=2, wanted_mm=9.3)
    fair = Cables(runs=(good, other))
    assert codes(fair) == set()
    changed = fair.model_copy(update={"runs": (good.model_copy(update=update), other)})
    assert code in codes(changed)


def test_cables_come_and_go_and_are_hung_elsewhere() -> None:
    vehicle = apply_edit(BUS, add_cables())
    assert vehicle.cables is not None
    more = add_run(vehicle)
    assert more is not None
    vehicle = apply_edit(vehicle, more)
    assert vehicle.cables is not None
    assert vehicle.cables.runs[-1].name == "cable 1"
    vehicle = apply_edit(vehicle, set_levers(vehicle.cables, 2, 2))
    assert vehicle.cables is not None
    assert len(vehicle.cables.runs[2].levers) == 2
    choice, words = hole_rows(vehicle.cables, 2)[0]
    assert words.startswith("hand ")
    vehicle = apply_edit(vehicle, apply_holes(vehicle.cables, 2, choice))
    assert vehicle.cables is not None
    assert run_figures(vehicle.cables, vehicle.cables.runs[2]).travel == pytest.approx(
        choice.travel
    )
    fewer = apply_edit(vehicle, remove_run(vehicle.cables, 0)).cables
    assert fewer is not None
    assert [run.name for run in fewer.runs] == ["motor speed", "cable 1"]
    full = Cables(runs=tuple(CableRun(name=f"c{n}") for n in range(6)))
    assert add_run(vehicle.model_copy(update={"cables": full})) is None
    assert "hole-shared" in codes(full)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (
            {"runs": [{"name": "a", "from_hole": 9}]},
            told("cables.there-is-no-hole-the-hand-lever-has", from_hole="9"),
        ),
        ({"runs": [{"name": "a"}, {"name": "a"}]}, told("cables.two-cables-are-called", name="a")),
        (
            {"runs": [{"name": "a", "levers": [{"holes_mm": [3], "takes": 2}]}]},
            told("cables.there-is-no-hole-the-lever-has", number="2"),
        ),
    ],
)
def test_holes_that_are_not_there_are_refused(data: dict[str, object], words: Told) -> None:
    with refuses(ValidationError, words):
        Cables.model_validate(data)


@given(st.floats(0, 1))
def test_a_lever_leans_by_its_travel_from_one_side_to_the_other(share: float) -> None:
    """A hole at r has moved r (sin θ + sin θmax) when its lever stands at θ."""
    run = CableRun(name="a", slack_mm=0, from_hole=3, levers=(HoledLever(takes=2, gives=4),))
    cables = Cables(runs=(run,))
    hand, lever = leans_deg(cables, run, share)
    whole = run_figures(cables, run)
    for angle, swing, arm, travel in (
        (hand, whole.swings[0], 24.0, whole.travels[0]),
        (lever, whole.swings[1], 16.0, whole.travels[0]),
    ):
        assert -swing / 2 - 1e-9 <= angle <= swing / 2 + 1e-9
        if share in (0, 1):
            assert abs(angle) == pytest.approx(swing / 2)
        assert travel == pytest.approx(2 * arm * sin(radians(swing / 2)))
    assert leans_deg(cables, run, 0.0) < leans_deg(cables, run, 1.0)
    jams = CableRun(name="b", levers=(HoledLever(holes_mm=(1.0, 40.0), takes=1, gives=2),))
    assert leans_deg(Cables(runs=(jams,)), jams, 0.5)[1] == 0.0
