"""The stepless lever drive against closed forms: ideal sines, rectified by N even ratchets.

The largest of N sines shifted evenly over a turn has the mean (N/π) sin(π/N) and the trough
cos(π/N) of its peak: half-wave rectifiers with N phases, as in handbooks of power electronics
(from memory; it follows by integration, done here by SciPy).
"""

from math import asin, cos, degrees, hypot, pi, radians, sin

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad
from shapely import Polygon

from examples import example_vehicle
from mild_badger.core.driveline.assemble import LEVER_THROWS, LEVER_WHEEL
from mild_badger.core.drivetrain.lever_motion import (
    best_counts,
    describe_motion,
    mean_turns,
    motion_of,
    pose_at,
    range_of,
    stroke_mm,
)
from mild_badger.core.errors import InputError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import plain
from mild_badger.core.mechanisms.lever.edits import add_lever, move_fulcrum, remove_lever
from mild_badger.core.mechanisms.lever.findings import lever_findings
from mild_badger.core.mechanisms.lever.model import LeverDrive
from mild_badger.core.templates.kerf import cut_shapes
from mild_badger.core.trial.expected import expected, places
from mild_badger.core.vehicle.box import GearPair
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.parts import parts_needed
from mild_badger.core.workshop.templates import template_of, templates_of
from telling import Told, refuses, tells, told


def ideal(count: int = 3, **changes: object) -> LeverDrive:
    """Give a yoke without play or loss, and teeth so fine that they count as friction."""
    made = {"ratchets": count, "pin_lost_mm": 0.0, "pawl_lost_mm": 0.0, "loss": 0.0, **changes}
    return LeverDrive().model_copy(update={"wheel_mm": 16.0, "teeth": 1_000_000, **made})


def mad(drive: LeverDrive | None) -> Vehicle:
    return example_vehicle().model_copy(update={"lever_drive": drive})


@pytest.mark.parametrize(
    ("count", "mean", "trough"),
    [
        (2, 0.6366, 0),
        (3, 0.8270, 0.5),
        (4, 0.9003, 0.7071),
        (6, 0.9549, 0.8660),
    ],
)
def test_even_ratchets_give_the_closed_form(count: int, mean: float, trough: float) -> None:
    motion = motion_of(ideal(count))
    peak = 10 / 45 * 45 / 16  # throw · lever ratio over the wheel's radius
    assert motion.peak == pytest.approx(peak, rel=1e-4)
    assert motion.mean / peak == pytest.approx(mean, rel=5e-4)
    assert count / pi * sin(pi / count) == pytest.approx(mean, abs=5e-5)
    whole, _ = quad(
        lambda a: max(cos(a + 2 * pi * n / count) for n in range(count)), 0, 2 * pi, limit=400
    )
    assert motion.mean / peak == pytest.approx(whole / (2 * pi), rel=5e-4)
    assert motion.trough / peak == pytest.approx(trough, abs=0.02)  # a step is 1°
    assert motion.trough / peak == pytest.approx(cos(pi / count), abs=0.02)


@pytest.mark.parametrize(("count", "same_as"), [(1, 2), (2, 4), (3, 6)])
def test_two_sided_ones_do_as_twice_as_many(count: int, same_as: int) -> None:
    two = motion_of(ideal(count, two_sided=True))
    one = motion_of(ideal(same_as))
    assert two.mean == pytest.approx(one.mean, rel=1e-3)
    assert two.trough == pytest.approx(one.trough, abs=0.02)
    assert sum(two.driving) == pytest.approx(sum(one.driving), abs=0.02)


@pytest.mark.parametrize("at", [30.0, 45.0, 60.0])
def test_the_lever_ratio_at_known_arms(at: float) -> None:
    drive = ideal(3)
    motion = motion_of(drive, at)
    assert motion.arms_mm == (at, 90 - at)
    assert motion.stroke_mm == pytest.approx(20 * (90 - at) / at, rel=1e-4)
    assert motion.peak == pytest.approx(10 / 16 * (90 - at) / at, rel=1e-4)
    pose = pose_at(drive.model_copy(update={"fulcrum_mm": at}), 0.0)
    assert pose.input == pytest.approx((0, 10))
    assert pose.output == pytest.approx((90, -10 * (90 - at) / at))
    assert degrees(asin(sin(radians(pose.lean_deg)))) == pytest.approx(pose.lean_deg)


def test_a_crank_strokes_as_a_slider_crank_does() -> None:
    """The slider-crank row of our reference values, from its middle: 104, 95.1498, 76.3151, 56."""
    drive = ideal(1, motion="crank", throw_mm=24.0, rod_mm=80.0)
    for angle, height in ((0, 104), (45, 95.1498), (90, 76.3151), (180, 56)):
        assert stroke_mm(drive, angle) + 80 == pytest.approx(height, abs=5e-5)


@settings(max_examples=25, deadline=None)
@given(st.integers(1, 6), st.floats(30, 60), st.sampled_from(("yoke", "crank")), st.booleans())
def test_work_in_is_work_out_and_the_joints_losses(
    count: int, at: float, motion: str, two: bool
) -> None:
    drive = ideal(count, motion=motion, fulcrum_mm=at, two_sided=two, loss=0.05)
    found, load = motion_of(drive), 100.0
    put_in = float(np.mean(found.input_torque(load))) * 2 * pi
    got_out = load * found.mean * 2 * pi
    assert put_in * 0.95**3 == pytest.approx(got_out, rel=2e-3)
    # statics: the pawl's force back through the lever to the throw that drives fastest
    angle, step = 33.0, 0.5
    for phase in drive.phases:
        slope = stroke_mm(drive, angle + phase + step) - stroke_mm(drive, angle + phase - step)
        torque = load / 16 * (90 - at) / at * abs(slope) / (2 * radians(step)) / 0.95**3
        if two or slope > 0:
            assert torque <= max(found.input_torque(load)) * 1.001


@pytest.mark.parametrize(("teeth", "gained"), [(10, 1.0), (24, 4.0), (36, 7.0), (72, 14.0)])
def test_one_ratchet_gains_whole_teeth_only(teeth: int, gained: float) -> None:
    """A stroke of 20 mm at 16 mm is 0.1989 of a turn: so many whole teeth, the rest is lost."""
    assert int(20 / (2 * pi * 16) * teeth) == gained
    motion = motion_of(ideal(1, teeth=teeth))
    assert motion.teeth_a_stroke == pytest.approx(gained, abs=1e-6)
    assert motion.mean == pytest.approx(gained / teeth, abs=1e-9)


def test_what_the_joints_lose_comes_off_the_stroke() -> None:
    """Play at the throw is passed on through the lever, play at the pawl is not."""
    for pin, pawl, at in ((1.0, 0.0, 45.0), (0.0, 1.0, 45.0), (1.0, 0.5, 30.0)):
        drive = ideal(1, pin_lost_mm=pin, pawl_lost_mm=pawl, fulcrum_mm=at)
        arms = (90 - at) / at
        left = 20 * arms - pin * arms - pawl
        assert motion_of(drive).mean * 2 * pi * 16 == pytest.approx(left, rel=1e-3)


def test_teeth_made_finer_come_to_the_closed_form() -> None:
    off = [abs(motion_of(ideal(3, teeth=n)).mean / 0.625 - 0.8270) for n in (36, 360, 36_000)]
    assert off[0] > off[1] > off[2]
    assert off[2] < 5e-4


def test_the_range_runs_from_stop_to_stop_and_more_ratchets_run_smoother() -> None:
    drive = ideal(3)
    found = range_of(drive)
    assert (found[0][0], found[-1][0]) == (25.0, 65.0)
    means = [motion.mean for _, motion in found]
    assert means == sorted(means, reverse=True)
    assert means[0] / means[-1] == pytest.approx((65 / 25) / (25 / 65), rel=1e-3)  # b/a at each
    counts = best_counts(drive)
    assert [n for n, _ in counts] == [1, 2, 3, 4, 5, 6]
    uneven = [motion.pulsation for _, motion in counts]
    assert uneven == sorted(uneven, reverse=True)
    assert uneven[0] == pytest.approx(pi, rel=1e-2)  # one half-wave: peak over mean is π


def codes(drive: LeverDrive) -> dict[str, str]:
    return {f.code: f.text for f in lever_findings(mad(drive))}


def test_faults_are_named_with_their_figures() -> None:
    assert codes(LeverDrive()) == {}
    jam = codes(ideal(3, stop_low_mm=5.0))
    assert tells(plain(jam["lever-jams"]), "lever.the-drive-runs-with-the-fulcrum-beyond")
    assert tells(
        plain(jam["lever-jams"]), "lever.the-drive-runs-with-the-fulcrum-beyond", jammed="8.0 mm"
    )
    assert tells(
        codes(ideal(2, motion="crank", rod_mm=8.0))["lever-jams"],
        "lever.the-drive-runs-with-the-fulcrum-beyond",
    )
    lean = degrees(np.arctan2(10, 5))
    assert motion_of(ideal(3, stop_low_mm=5.0), 5.0).jams.count(f"{lean:.0f}°") == 1
    none = codes(ideal(1, teeth=6, throw_mm=5.0))
    assert tells(none["no-tooth-gained"], "lever.a-stroke-of-less-the-play-of-the-joints-is")
    both = codes(ideal(2, phases_deg=(0.0, 180.0), two_sided=True))
    assert tells(both["ratchets-together"], "lever.two-throws-stand-at-and-they-push-at-the")
    assert "0° and 2°" in codes(ideal(2, phases_deg=(0.0, 362.0)))["ratchets-together"]
    assert "90° to 180° apart" in codes(ideal(3, phases_deg=(0.0, 90.0, 180.0)))["uneven-phases"]
    uneven = lever_findings(mad(ideal(3, phases_deg=(0.0, 90.0, 180.0))))
    finding = next(f for f in uneven if f.code == "uneven-phases")
    assert finding.mend is not None
    vehicle = apply_edit(mad(LeverDrive(phases_deg=(0.0, 90.0, 180.0))), finding.mend)
    assert vehicle.lever_drive is not None
    assert vehicle.lever_drive.phases == (0, 120, 240)


def test_words_and_edits() -> None:
    vehicle = apply_edit(mad(None), add_lever())
    drive = vehicle.lever_drive
    assert drive is not None
    assert tells(
        describe_motion(drive, motion_of(drive)),
        "drivetrain.the-wheel-turns-for-one-of-the-throws-to",
    )
    slid = apply_edit(vehicle, move_fulcrum(vehicle, 500.0)).lever_drive
    assert slid is not None
    assert slid.fulcrum_mm == 65.0
    jammed = ideal(3, stop_low_mm=5.0, fulcrum_mm=5.0)
    assert tells(
        plain(describe_motion(jammed, motion_of(jammed))),
        "drivetrain.with-the-fulcrum-from-its-input-the-lever",
        fulcrum_mm="5 mm",
    )
    coarse = ideal(1, teeth=6, throw_mm=5.0)
    assert tells(
        describe_motion(coarse, motion_of(coarse)), "lever.the-stroke-is-too-short-to-advance-the"
    )
    assert apply_edit(vehicle, remove_lever(vehicle)).lever_drive is None
    with refuses(ValueError, "lever.fulcrum-and-stops-at-and-must-stand-on-the"):
        LeverDrive(fulcrum_mm=LeverDrive().lever_mm)
    with refuses(
        ValueError,
        "lever.ratchets-take-as-many-phases-are-given",
        ratchets="3",
        count_of_phases_deg="2",
    ):
        LeverDrive(phases_deg=(0, 90))


def test_throws_and_wheel_turn_with_the_drivetrain() -> None:
    drive = LeverDrive(pairs=(GearPair(driver=8, driven=40),))
    vehicle = mad(drive)
    names = {place.body: place.name for place in places(vehicle)}
    assert names[LEVER_WHEEL].endswith(", ratchet wheel of the lever drive")
    throws = expected(vehicle, "1", LEVER_THROWS)
    wheel = expected(vehicle, "1", LEVER_WHEEL)
    assert throws is not None
    assert wheel is not None
    assert abs(throws) == pytest.approx(1 / 5)
    assert abs(wheel / throws) == pytest.approx(motion_of(drive).mean, abs=1e-4)
    assert float(mean_turns(drive)) == pytest.approx(motion_of(drive).mean, abs=1e-4)
    coarse = ideal(1, teeth=6, throw_mm=5.0)
    assert expected(mad(coarse), "1", LEVER_WHEEL) == 0
    before = [gear.ratio for gear in evaluate(example_vehicle()).gears]
    assert [gear.ratio for gear in evaluate(vehicle).gears] == before


def test_parts_and_templates() -> None:
    vehicle = mad(LeverDrive(two_sided=True))
    counts = {p.key[0]: p.needed for p in parts_needed(vehicle)}
    assert (counts["lever"], counts["ratchet"], counts["pawl"]) == (3, 6, 6)
    found = {t.key: t for t in templates_of(vehicle) if t.key.startswith("lever ")}
    assert {key: t.count for key, t in found.items()} == {
        "lever arm": 3,
        "lever wheel": 6,
        "lever pawl": 3,
        "lever hook": 3,
        "lever throw": 3,
        "lever jig": 1,
        "lever rod": 3,
    }
    ((rim, (bore,)),) = cut_shapes(template_of(vehicle, "lever wheel", kerf=False))
    wheel = Polygon(rim, [bore])
    assert wheel.is_valid
    assert (wheel.bounds[2] - wheel.bounds[0]) / 2 == pytest.approx(34, abs=0.05)
    assert len(set(rim)) == 2 * 144
    ((edge, holes),) = cut_shapes(template_of(vehicle, "lever arm", kerf=False))
    assert Polygon(edge, holes).is_valid
    slot = max((Polygon(hole) for hole in holes), key=lambda p: p.area)
    hole = vehicle.hole_mm(3.0, "running")
    assert slot.bounds[3] - slot.bounds[1] == pytest.approx(hypot(65, 10) - 25 + hole, abs=0.01)
    for key in ("lever hook", "lever throw", "lever rod"):
        ((around, inside),) = cut_shapes(template_of(vehicle, key, kerf=False))
        assert Polygon(around, inside).is_valid
    ((nose, eyes),) = cut_shapes(template_of(vehicle, "lever pawl", kerf=False))
    assert Polygon(nose, eyes).is_valid


@pytest.mark.parametrize(
    ("drive", "key", "words"),
    [
        (None, "lever arm", told("workshop.this-vehicle-takes-no-template-see-the-list")),
        (
            LeverDrive(stop_low_mm=3.0),
            "lever arm",
            told("lever.lever-its-slot-comes-within-of-a-pins-hole"),
        ),
        (
            LeverDrive(teeth=400),
            "lever wheel",
            told("lever.ratchet-wheel-teeth-on-are-apart-finer-than"),
        ),
        (
            LeverDrive(wheel_mm=3.0, teeth=12),
            "lever wheel",
            told("lever.ratchet-wheel-with-its-teeth-from-the-middle"),
        ),
    ],
)
def test_what_cannot_be_cut_is_refused(drive: LeverDrive | None, key: str, words: Told) -> None:
    with refuses(InputError, words):
        template_of(mad(drive), key)
