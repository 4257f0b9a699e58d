"""The mechanisms of the shorter lessons: pairs in a row, a train, lever and drum, bending shafts.

Shafts lie along z here, towards the eye, so that gears are seen from the front.
"""

from functools import lru_cache
from math import atan2, cos, pi, radians, sin

from mild_badger.core.lesson.course import poses, rotation, still
from mild_badger.core.lesson.shapes import block, mesh_from, rod, spur
from mild_badger.core.lesson.state import Body, Label, Mechanism, Motion, Pose, Setting
from mild_badger.core.mesh.outline import meshing_turn
from mild_badger.core.message import say
from mild_badger.core.scene.mesh import Floats

__all__ = [
    "BEND_DRAWN",
    "PAIRS",
    "SKIP_MODULE",
    "SKIP_TEETH",
    "TRAIN_TEETH",
    "bending",
    "lever_and_drum",
    "pairs_in_a_row",
    "pose_bending",
    "pose_pairs",
    "pose_shifter",
    "pose_train",
    "ratio_of",
    "track_mm",
    "train",
]

ORIGIN = (0.0, 0.0, 0.0)
PAIRS: tuple[tuple[tuple[int, int], ...], ...] = (
    ((15, 45), (18, 42), (22, 38), (26, 34), (30, 30)),
    ((15, 45), (20, 40), (24, 36), (27, 33), (30, 30)),
)
"""Five pairs, driver and driven: with steps alike, and with steps that shrink."""
PAIR_MODULE, PAIR_WIDE, PAIR_STEP = 1.2, 6.0, 15.0
TRAIN_TEETH, TRAIN_MODULE = 16, 2.0
THROW_MM, DRUM_MM, LEVER_MM, FINGER_MM = 8.0, 15.0, 44.0, 22.0
SKIP_TEETH, SKIP_MODULE, BEND_DRAWN = 20, 2.0, 2.0
"""How much more a shaft is drawn bent than it is."""


def ratio_of(setting: Setting, gear: int) -> float:
    """Give a gear's ratio, turns in for one turn out."""
    driver, driven = PAIRS[setting.choice][gear - 1]
    return driven / driver


@lru_cache(maxsize=12)
def pairs_in_a_row(choice: int, gear: int) -> Mechanism:
    """Build five pairs between two shafts; the engaged one turns the output."""
    apart = PAIR_MODULE * 60 / 2
    long = PAIR_STEP * 5
    drivers = [rod((0.0, 0.0, 14.0), (0.0, 0.0, -long), 2.5)]
    bodies, labels = [], []
    for number, (driver, driven) in enumerate(PAIRS[choice]):
        z = -PAIR_STEP * (number + 0.5)
        drivers.append(spur(driver, PAIR_MODULE, PAIR_WIDE).translate((0.0, 0.0, z)))
        gear_solid = spur(driven, PAIR_MODULE, PAIR_WIDE, 3.0)
        own = number + 1 == gear
        bodies.append(
            Body(
                f"driven {number + 1}",
                mesh_from([gear_solid.translate((0.0, 0.0, z))]),
                "run" if own else "idle",
            )
        )
    out = [rod((0.0, 0.0, 2.0), (0.0, 0.0, -long - 24.0), 2.5)]
    z = -PAIR_STEP * (gear - 0.5)
    out.append(rod((0.0, 0.0, z + 4.0), (0.0, 0.0, z + 9.0), 7.0))  # the sleeve that is in
    out.append(rod((0.0, 0.0, -long - 10.0), (0.0, 0.0, -long - 22.0), 24.0))
    out.append(block((-3.0, 18.0, -long - 9.0), (3.0, 23.0, -long - 23.0 + 26.0)))
    labels = [
        Label(say("lesson.input"), (0.0, 10.0, 20.0)),
        Label(say("lesson.output"), (apart, 32.0, -long - 16.0)),
    ]
    return Mechanism(
        (
            Body("input", mesh_from(drivers), "run", driven=True),
            *bodies,
            Body("output", mesh_from(out), "run"),
        ),
        tuple(labels),
    )


def pose_pairs(motion: Motion, setting: Setting) -> Pose:
    """Pose the pairs: every driven gear turns at its own speed."""
    apart = (PAIR_MODULE * 60 / 2, 0.0, 0.0)
    turns: list[tuple[Floats, tuple[float, float, float]]] = [
        (rotation("z", -motion.carrier), ORIGIN)
    ]
    for driver, driven in PAIRS[setting.choice]:
        first = -motion.carrier
        turns.append((rotation("z", meshing_turn((driver, driven), first, 0.0)), apart))
    turns.append((rotation("z", motion.left), apart))
    return poses(*turns)


@lru_cache(maxsize=6)
def train(count: int) -> Mechanism:
    """Build a row of equal gears, each in mesh with the next."""
    solid = [
        spur(TRAIN_TEETH, TRAIN_MODULE, 8.0, 2.5),
        rod((0.0, 0.0, -8.0), (0.0, 0.0, 8.0), 2.5),
        block((8.0, -1.2, 4.0), (13.0, 1.2, 5.5)),
    ]
    mesh = mesh_from(solid)
    apart = TRAIN_TEETH * TRAIN_MODULE
    return Mechanism(
        tuple(
            Body(
                f"gear {n + 1}",
                mesh,
                "run" if n % 2 == 0 else "back",
                driven=n == 0,
            )
            for n in range(count)
        ),
        (
            Label(say("lesson.input"), (0.0, 26.0, 0.0)),
            Label(say("lesson.output"), (apart * (count - 1), 26.0, 0.0)),
        ),
    )


def pose_train(motion: Motion, count: int) -> Pose:
    """Pose the row."""
    apart = float(TRAIN_TEETH * TRAIN_MODULE)
    turns, angle = [], -motion.carrier
    for number in range(count):
        turns.append((rotation("z", angle), (apart * number, 0.0, 0.0)))
        angle = meshing_turn((TRAIN_TEETH, TRAIN_TEETH), angle, 0.0)
    return poses(*turns)


def track_mm(drum_rad: float) -> float:
    """Give how far a drum's track stands from its neutral line: in, neutral and in, as a wave."""
    turn = drum_rad % (2 * pi)
    third = 2 * pi / 3
    place = turn / third  # 0 in front, 1 neutral, 2 behind
    stops = (-1.0, 0.0, 1.0, -1.0)
    number = int(place)
    share = place - number
    ramp = min(max((share - 0.35) / 0.5, 0.0), 1.0)
    return THROW_MM * (stops[number] + (stops[number + 1] - stops[number]) * ramp)


@lru_cache(maxsize=2)
def lever_and_drum(choice: int) -> Mechanism:
    """Build a sleeve between two gears, its fork moved by a lever, or by a drum's track."""
    shaft = rod((0.0, 0.0, -46.0), (0.0, 0.0, 46.0), 3.0)
    gears = [spur(22, 1.5, 8.0).translate((0.0, 0.0, z)) for z in (-22.0, 22.0)]
    fork = [
        rod((0.0, 30.0, -40.0), (0.0, 30.0, 40.0), 2.5),
        block((-4.0, 9.0, -2.0), (4.0, 32.0, 2.0)),
        block((-12.0, 6.0, -1.5), (12.0, 12.0, 1.5)) - rod((0.0, 0.0, -4.0), (0.0, 0.0, 4.0), 8.5),
    ]
    sleeve = rod((0.0, 0.0, -6.0), (0.0, 0.0, 6.0), 10.0) - (
        rod((0.0, 0.0, -2.0), (0.0, 0.0, 2.0), 11.0) - rod((0.0, 0.0, -3.0), (0.0, 0.0, 3.0), 8.0)
    )
    bodies = [
        Body("shaft", mesh_from([shaft])),
        Body("front gear", mesh_from([gears[1]]), "idle"),
        Body("back gear", mesh_from([gears[0]]), "back"),
        Body("sleeve", mesh_from([sleeve]), "run"),
    ]
    labels = [
        Label(say("lesson.front-gear"), (0.0, -24.0, 22.0)),
        Label(say("lesson.back-gear"), (0.0, -24.0, -22.0)),
        Label(say("lesson.sleeve"), (16.0, 0.0, 0.0)),
    ]
    if choice == 0:
        fork += [
            block((-4.0, 30.0, -6.0), (4.0, 42.0, -3.0)),
            block((-4.0, 30.0, 3.0), (4.0, 42.0, 6.0)),
        ]
        lever = [
            rod((0.0, -FINGER_MM, 0.0), (0.0, LEVER_MM, 0.0), 2.5),
            rod((-8.0, 0.0, 0.0), (8.0, 0.0, 0.0), 3.5),
            rod((0.0, LEVER_MM - 6.0, 0.0), (0.0, LEVER_MM + 6.0, 0.0), 6.5),
        ]
        bodies.append(Body("fork", mesh_from(fork), "run"))
        bodies.append(Body("lever", mesh_from(lever), "run", driven=True))
        labels.append(Label(say("lesson.knob-of-the-lever"), (16.0, 58.0 + LEVER_MM, 0.0)))
        labels.append(Label(say("lesson.pivot"), (18.0, 58.0, 0.0)))
    else:
        fork.append(rod((0.0, 31.0, 0.0), (0.0, 58.0 - DRUM_MM + 3.0, 0.0), 2.0))
        drum = rod((0.0, 0.0, -26.0), (0.0, 0.0, 26.0), DRUM_MM)
        for n in range(90):
            turn = 2 * pi * n / 90
            # what stands under the follower, below the drum, at an angle of it
            at = -pi / 2 - turn
            inner = (3.5 + DRUM_MM - 7.0) * cos(at), (3.5 + DRUM_MM - 7.0) * sin(at), track_mm(turn)
            outer = (DRUM_MM + 2) * cos(at), (DRUM_MM + 2) * sin(at), track_mm(turn)
            drum -= rod(inner, outer, 2.3)
        drum += rod((0.0, 0.0, -46.0), (0.0, 0.0, 46.0), 3.0)
        bodies.append(Body("fork", mesh_from(fork), "run"))
        bodies.append(Body("drum", mesh_from([drum]), "run", driven=True))
        labels.append(Label(say("lesson.drum-with-a-track"), (0.0, 82.0, 0.0)))
    return Mechanism(tuple(bodies), tuple(labels))


def pose_shifter(choice: int, motion: Motion) -> Pose:
    """Pose lever or drum; ``more`` is how far the sleeve has gone towards the front gear, mm."""
    gone = (0.0, 0.0, motion.more)
    front, back = rotation("z", -motion.left), rotation("z", -motion.right)
    own = front if motion.more > THROW_MM / 2 else back if motion.more < -THROW_MM / 2 else still()
    turns: list[tuple[Floats, tuple[float, float, float]]] = [
        (own, ORIGIN),
        (front, ORIGIN),
        (back, ORIGIN),
        (own, gone),
        (still(), gone),
    ]
    high = (0.0, 58.0, 0.0)
    if choice == 0:
        lean = atan2(motion.more, FINGER_MM)
        turns.append((rotation("x", -lean), high))
    else:
        turns.append((rotation("z", motion.carrier), high))
    return poses(*turns)


@lru_cache(maxsize=24)
def bending(span_mm: float) -> Mechanism:
    """Build two gears on thin shafts between two walls; each shaft in two halves, to bend."""
    half = span_mm / 2
    gear = mesh_from([spur(SKIP_TEETH, SKIP_MODULE, 8.0)])
    apart = SKIP_TEETH * SKIP_MODULE
    walls = [
        block((-14.0, -14.0, z - 2.0), (apart + 14.0, 14.0, z + 2.0)) for z in (-half - 2, half + 2)
    ]
    front = rod((0.0, 0.0, -half), (0.0, 0.0, 2.0), 2.5)
    back = rod((0.0, 0.0, half), (0.0, 0.0, -2.0), 2.5)
    halves = [mesh_from([h.translate((0.0, 0.0, z))]) for h, z in ((front, half), (back, -half))]
    bodies = [
        Body("wall back", mesh_from([walls[0]])),
        Body("wall front", mesh_from([walls[1]])),
        Body("driver", gear, "run", driven=True),
        Body("driven", gear, "back"),
    ]
    for name, role in (("driver", "run"), ("driven", "back")):
        bodies += [Body(f"{name} shaft {n}", mesh, role) for n, mesh in enumerate(halves)]
    return Mechanism(
        tuple(bodies),
        (
            Label(say("lesson.motor-side"), (0.0, 30.0, 0.0)),
            Label(say("lesson.load-side"), (apart, 30.0, 0.0)),
        ),
    )


def pose_bending(motion: Motion, setting: Setting, away_mm: float) -> Pose:
    """Pose them: each gear pushed away by half of ``away_mm``, drawn larger than it is."""
    apart, half = SKIP_TEETH * SKIP_MODULE, setting.span_mm / 2
    off = away_mm / 2 * BEND_DRAWN
    turns: list[tuple[Floats, tuple[float, float, float]]] = [
        (still(), ORIGIN),
        (still(), ORIGIN),
        (rotation("z", -motion.carrier), (-off, 0.0, 0.0)),
        (
            rotation("z", motion.left + radians(180.0 / SKIP_TEETH) + pi),
            (apart + off, 0.0, 0.0),
        ),
    ]
    for x, by in ((0.0, -off), (float(apart), off)):
        for end in (-half, half):
            lean = atan2(by, half)
            turns.append((rotation("y", lean if end < 0 else -lean), (x, 0.0, end)))
    return poses(*turns)
