"""The lessons: speeds as the solver has them, teeth that interlock, questions that can be tried."""

from dataclasses import replace
from fractions import Fraction
from itertools import product

import numpy as np
import pytest
from manifold3d import Manifold
from manifold3d import Mesh as Raw

from mild_badger.core.drivetrain.graph import (
    Body,
    Coupling,
    Drivetrain,
    Equation,
    bevel_differential,
    held,
    planetary,
    same_speed,
)
from mild_badger.core.drivetrain.solve import solve
from mild_badger.core.lesson.axle_scenes import RING, SUN
from mild_badger.core.lesson.catalogue import COURSES
from mild_badger.core.lesson.course import Step
from mild_badger.core.lesson.differential import DIFFERENTIAL
from mild_badger.core.lesson.planets import planetary_clear, planets_fit
from mild_badger.core.lesson.state import Doing, Motion, Setting
from mild_badger.core.lesson.tyres import slips, tyre_lines
from mild_badger.core.scene.camera import Camera
from mild_badger.core.scene.mesh import gathered, placed
from mild_badger.core.scene.raster import rastered

STEPS = {step.key: step for step in DIFFERENTIAL.steps}
EVERY = [(course.key, step.key) for course in COURSES for step in course.steps]


def step_of(course: str, key: str) -> Step:
    own = next(c for c in COURSES if c.key == course)
    return next(step for step in own.steps if step.key == key)


def moved(step: Step, doing: Doing, setting: Setting, seconds: float) -> Motion:
    motion = Motion()
    for _ in range(round(seconds / 0.03)):
        motion = step.move(motion, doing, setting, 0.03)
    return motion


def solids(step: Step, motion: Motion, doing: Doing, setting: Setting) -> dict[str, Manifold]:
    """Give the bodies of a step as solids where they stand."""
    mechanism = step.build(setting)
    turns, places = step.pose(motion, doing, setting)
    made = {}
    for body, turn, place in zip(mechanism.bodies, turns, places, strict=True):
        corners = (body.mesh.corners @ turn.T + place).astype(np.float32)
        raw = Raw(vert_properties=corners, tri_verts=body.mesh.faces.astype(np.uint32))
        made[body.id] = Manifold(raw)
    return made


def overlap(made: dict[str, Manifold], one: str, other: str) -> float:
    return float((made[one] ^ made[other]).volume())


@pytest.mark.parametrize("hold", ["", "left", "right"])
@pytest.mark.parametrize("key", ["rings", "ring wheel", "compact", "limits"])
def test_a_differential_turns_as_the_solver_has_it(key: str, hold: str) -> None:
    step = STEPS[key]
    doing = Doing(turning=True, held=hold)  # type: ignore[arg-type]
    motion = moved(step, doing, step.starts, 0.9)
    road: tuple[Equation, ...] = (
        (held(hold),) if hold else (same_speed("left", "right", kind=Coupling.ROAD),)
    )
    bodies = tuple(Body(name, name, "shaft") for name in ("carrier", "left", "right"))
    train = Drivetrain(bodies, (bevel_differential("carrier", "left", "right"),), "carrier")
    solved = solve(train, {}, road)
    for name in ("left", "right"):
        assert getattr(motion, name) == pytest.approx(
            float(solved.speeds[name] or 0) * motion.carrier
        )


@pytest.mark.parametrize("hold", ["", "left", "right"])
def test_the_planetary_form_turns_by_willis(hold: str) -> None:
    step = STEPS["planetary"]
    motion = moved(step, Doing(turning=True, held=hold), step.starts, 0.9)  # type: ignore[arg-type]
    bodies = tuple(Body(name, name, "shaft") for name in ("carrier", "left", "right"))
    road = (held(hold),) if hold else (same_speed("left", "right", kind=Coupling.ROAD),)
    train = Drivetrain(bodies, (planetary("left", "right", "carrier", (SUN, RING)),), "carrier")
    solved = solve(train, {}, road)
    for name in ("left", "right"):
        speed = solved.speeds[name]
        assert getattr(motion, name) == pytest.approx(float(speed or 0) * motion.carrier)
    if hold == "left":
        assert solved.speeds["right"] == Fraction(SUN + RING, RING)  # a turn and a third


def test_in_a_corner_the_wheels_turn_in_proportion_to_their_radii() -> None:
    step = STEPS["rings"]
    setting = replace(step.starts, radius_mm=300.0)
    motion = moved(step, Doing(turning=True, corner=True), setting, 0.6)
    track = setting.track_mm
    assert motion.left / motion.right == pytest.approx((300 - track / 2) / (300 + track / 2))
    assert (motion.left + motion.right) / 2 == pytest.approx(motion.carrier)


@pytest.mark.parametrize("seed", [1, 2])
@pytest.mark.parametrize("key", ["rings", "ring wheel", "planetary"])
def test_teeth_interlock_however_far_they_have_turned(key: str, seed: int) -> None:
    step = STEPS[key]
    random = np.random.default_rng(seed)
    carrier, left = random.uniform(-3, 3, 2)
    right = 2 * carrier - left
    if key == "planetary":
        right = ((SUN + RING) * carrier - SUN * left) / RING
    made = solids(step, Motion(carrier, left, right), Doing(), step.starts)
    pairs = {
        "rings": [("left", "planet 1"), ("right", "planet 1")],
        "ring wheel": [
            ("left", "planet 1"),
            ("right", "planet 2"),
            ("carrier", "pinion"),
        ],
        "planetary": [(side, f"planet {n}") for side in ("left", "right") for n in (1, 2, 3)],
    }[key]
    for one, other in pairs:
        assert overlap(made, one, other) < 0.6, (one, other)
    # and they are in mesh: with one turned on by half a tooth they are not clear
    first, second = pairs[0]
    half = 180.0 / {"rings": 15, "ring wheel": 15, "planetary": SUN}[key]
    off = made[first].rotate((half, 0.0, 0.0))
    assert (off ^ made[second]).volume() > 2.0


@pytest.mark.parametrize("planets", [1, 2, 3, 4, 5])
def test_planets_that_fit_interlock_and_those_that_do_not_cannot(planets: int) -> None:
    step = STEPS["planets"]
    setting = replace(step.starts, planets=planets)
    made = solids(step, Motion(0.7, 0.2, 1.2), Doing(), setting)
    worst = max(
        overlap(made, side, f"planet {n + 1}") for side in ("left", "right") for n in range(planets)
    )
    assert planets_fit(planets) == (worst < 0.6)
    between = [
        overlap(made, f"planet {n + 1}", f"planet {m + 1}")
        for n in range(planets)
        for m in range(n)
    ]
    assert max(between, default=0.0) < 0.05
    stalled = moved(step, Doing(turning=True), setting, 0.3).stalled
    assert stalled == (not planets_fit(planets))


def test_so_many_planets_have_room_between_sun_and_ring_as_the_rule_says() -> None:
    step = STEPS["planetary"]
    for planets in range(2, 7):
        made = solids(step, Motion(), Doing(), replace(step.starts, planets=planets))
        # by their tip circles: teeth may happen to pass through one another's gaps
        boxes = [np.array(made[f"planet {n}"].bounding_box()) for n in (1, 2)]
        middles = [(box[:3] + box[3:]) / 2 for box in boxes]
        tips = max(box[4] - box[1] for box in boxes)
        assert (np.linalg.norm(middles[0] - middles[1]) > tips) == planetary_clear(planets)
        if planetary_clear(planets):
            assert overlap(made, "planet 1", "planet 2") < 0.05


@pytest.mark.parametrize("seed", [3, 4])
def test_pinion_and_racks_interlock(seed: int) -> None:
    step = STEPS["racks"]
    middle, left = np.random.default_rng(seed).uniform(0, 40, 2)
    made = solids(step, Motion(middle, left, 2 * middle - left), Doing(), step.starts)
    for rack in ("left", "right"):
        assert overlap(made, "pinion", rack) < 0.6


@pytest.mark.parametrize("ahead", [0.0, 0.2, -0.4])
@pytest.mark.parametrize("key", ["bar", "star"])
def test_bar_and_star_touch_both_sides_and_cut_into_neither(key: str, ahead: float) -> None:
    step = STEPS[key]
    setting = replace(step.starts, gap_mm=12.0) if key == "star" else step.starts
    made = solids(step, Motion(0.5, 0.5 - ahead, 0.5 + ahead), Doing(), setting)
    for side in ("left", "right"):
        assert overlap(made, key, side) < 2.5  # round rods that lie on one another
        near = made[key].min_gap(made[side], 3.0)
        assert near < 0.9


def test_the_beam_stays_on_the_pins_of_both_loads() -> None:
    step = STEPS["beam"]
    motion = moved(step, Doing(turning=True, held="left"), step.starts, 4.0)
    assert motion.stalled  # it runs out
    assert motion.right == pytest.approx(2 * motion.carrier)
    made = solids(step, motion, Doing(), step.starts)
    for part in ("left", "right", "middle"):
        assert overlap(made, "beam", part) < 0.6


def test_a_bar_slips_off_and_drives_nothing() -> None:
    step = STEPS["bar"]
    slipped = moved(step, Doing(turning=True, held="left"), step.starts, 3.0)
    assert slipped.slipped
    on = step.move(slipped, Doing(turning=True), step.starts, 0.5)
    assert (on.left, on.right) == (slipped.left, slipped.right)
    assert on.carrier > slipped.carrier


def test_a_solid_axles_tyres_smear_by_half_of_track_over_radius() -> None:
    setting = Setting(radius_mm=360.0, track_mm=144.0)
    doing = Doing(turning=True, corner=True)
    assert slips("solid", doing, setting) == (0.2, -0.2)
    assert slips("both", doing, setting) == (0.0, 0.0)
    assert slips("both", replace(doing, locked=True), setting) == (0.2, -0.2)
    lines = tyre_lines("solid", 1000.0, doing, setting)
    left, right = lines.path_mm
    assert right - left == pytest.approx(1000.0 * 144 / 360)  # track times the angle driven
    smears = [m for m in lines.marks if m.smeared and m.side == "right"]
    prints = [m for m in lines.marks if not m.smeared and m.side == "right"]
    assert len(smears) == len(prints) == 50

    def long(points: tuple[tuple[float, float], ...]) -> float:
        return float(np.linalg.norm(np.diff(np.array(points), axis=0), axis=1).sum())

    # of each print's pitch a fifth is smeared
    assert long(smears[0].points) == pytest.approx(0.2 * 20.0 * (1 + 72 / 360), rel=0.01)
    assert not [m for m in tyre_lines("both", 1000.0, doing, setting).marks if m.smeared]
    # an arc about the corner's middle
    for mark in lines.marks[:20]:
        for x, y in mark.points:
            off = -72 if mark.side == "left" else 72
            assert np.hypot(x + 360, y) == pytest.approx(360 + off)


@pytest.mark.parametrize(("course", "key"), EVERY)
def test_every_question_is_answered_by_trying(course: str, key: str) -> None:
    step = step_of(course, key)
    assert not step.tried(Motion(), Doing(), step.starts)
    settings = [step.starts]
    for slider in step.sliders:
        for value in np.arange(slider.low, slider.high + 1e-9, slider.step):
            kind = type(getattr(step.starts, slider.knob))
            settings.append(replace(step.starts, **{slider.knob: kind(value)}))
    ends = [(slider.low, slider.high) for slider in step.sliders]
    for values in product(*ends):
        kinds = [type(getattr(step.starts, slider.knob)) for slider in step.sliders]
        named = zip(step.sliders, kinds, values, strict=True)
        settings.append(replace(step.starts, **{s.knob: kind(v) for s, kind, v in named}))
    doings = [Doing(turning=True)]
    if "hold left" in step.acts:
        doings += [Doing(turning=True, held="left"), Doing(turning=True, held="right")]
    if "corner" in step.acts:
        doings.append(Doing(turning=True, corner=True))
    if "lift" in step.acts:
        doings += [Doing(turning=True, lifted=True), Doing(turning=True, lifted=True, locked=True)]
    if "load" in step.acts:
        doings.append(Doing(turning=True, loaded=True))
    tried = False
    for setting, doing in product(settings, doings):
        motion = Motion()
        for _ in range(60):
            motion = step.move(motion, doing, setting, 0.25)
            tried = tried or step.tried(motion, doing, setting)
        assert step.verdict(motion, doing, setting)
        assert step.figures(motion, doing, setting)
        if tried:
            break
    assert tried


def test_every_steps_picture_is_its_own() -> None:
    """Of any two steps the covered parts of the pictures differ by a fifth or more."""
    size = (200, 150)
    masks = []
    for _, step in ((c.key, s) for c in COURSES for s in c.steps):
        scene = gathered([body.mesh for body in step.build(step.starts).bodies])
        motion = moved(step, Doing(turning=True), step.starts, 0.3)
        corners = placed(scene, *step.pose(motion, Doing(), step.starts))
        eye = Camera(step.look[0] % 360, step.look[1]).fitted(corners, size)
        seen = rastered(eye.seen(corners, size), scene.faces, size)
        ids = [body.role for body in step.build(step.starts).bodies]
        roles = np.array([*map(hash, ids), 0])
        owner = np.where(seen.face >= 0, np.append(scene.owner, -1)[seen.face], -1)
        masks.append(roles[owner])
        assert (seen.face >= 0).mean() > 0.1, step.key  # large in its picture
    for n, one in enumerate(masks):
        for other in masks[:n]:
            both = (one != 0) | (other != 0)
            assert (one != other).sum() / both.sum() > 0.2
