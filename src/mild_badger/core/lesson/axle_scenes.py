"""The mechanisms of the lesson on differentials, each its own: built, and posed as it has moved.

Seen from behind: the axle lies along x, forwards is away from the eye. A turn forwards is a turn
about x by minus its angle.
"""

from collections.abc import Sequence
from functools import lru_cache
from math import atan2, cos, pi, sin
from typing import TYPE_CHECKING

from mild_badger.core.lesson.contact import (
    bar_tilt_rad,
    let_go_rad,
    reach_mm,
    star_tilt_rad,
    star_turns,
)
from mild_badger.core.lesson.course import WHEEL_MM, poses, rotation, still
from mild_badger.core.lesson.shapes import (
    bevel,
    block,
    cone_mm,
    internal_ring,
    mesh_from,
    rack,
    rod,
    spur,
    tube,
    wheel,
)
from mild_badger.core.lesson.state import Body, Doing, Label, Mechanism, Motion, Pose, Setting
from mild_badger.core.message import say
from mild_badger.core.scene.mesh import Floats

if TYPE_CHECKING:
    from manifold3d import Manifold

__all__ = [
    "BEAM_X_MM",
    "CROWN_MM",
    "PLANET",
    "PLANETARY_MODULE",
    "PLANET_TEETH",
    "RACK_RADIUS_MM",
    "RING",
    "SIDE_RADIUS_MM",
    "SIDE_TEETH",
    "SUN",
    "bar_carrier",
    "bevel_carrier",
    "compact",
    "fair_beam",
    "pinion_and_racks",
    "planetary",
    "pose_bar",
    "pose_beam",
    "pose_bevel",
    "pose_compact",
    "pose_planetary",
    "pose_racks",
    "pose_rigid",
    "pose_star",
    "rigid_axle",
    "star_carrier",
]

Solids = Sequence["Manifold"]
ORIGIN = (0.0, 0.0, 0.0)
AXLE_MM, END_MM = 3.0, 74.0
"""Radius of half-axles, and where they end."""
DRIVEN_TEETH, DRIVER_TEETH, DRIVE_MODULE = 28, 10, 2.0
BEAM_X_MM, BEAM_MM = 34.0, 56.0
"""Where a sledge's pin is, and half the beam's length."""
RACK_TEETH, RACK_MODULE, RACK_PINION = 14, 3.0, 14
RACK_RADIUS_MM = RACK_MODULE * RACK_PINION / 2
SIDE_TEETH, PLANET_TEETH, MODULE, FACE_MM = 15, 8, 3.0, 9.0
SIDE_RADIUS_MM = SIDE_TEETH * MODULE / 2
RING_TEETH, PINION_TEETH, RING_MODULE = 36, 9, 2.5
SMALL_TEETH, SMALL_MODULE, SMALL_FACE_MM = 12, 2.25, 6.5
CROWN_TEETH, CROWN_PINION, CROWN_MODULE = 36, 9, 2.1
CROWN_MM = CROWN_TEETH * CROWN_MODULE / 2
"""Radius of the crown wheel of the compact differential."""
SUN, PLANET, RING, PLANETARY_MODULE = 15, 15, 45, 2.0
LIFT_MM, LOCK_MM = 12.0, 7.0
"""How far the ground gives way under a lifted wheel, and how far the lock's sleeve slides."""


def _forwards(angle: float) -> Floats:
    return rotation("x", -angle)


def _gap_at(teeth: int, degrees: float) -> float:
    """Give by how much a gear with a tooth at 0 is turned to have a gap at an angle, degrees."""
    return (degrees + 180.0 / teeth) % (360.0 / teeth)


def _half_axle(
    side: int,
    from_mm: float,
    more: Solids,
    *,
    radius: float = WHEEL_MM,
    wide: float = 12.0,
    end_mm: float = END_MM,
) -> Body:
    """Make a half-axle with its wheel; ``side`` is −1 left, +1 right."""
    low, high = sorted((side * (end_mm - wide), side * end_mm))
    solids = [
        rod((side * from_mm, 0.0, 0.0), (side * end_mm, 0.0, 0.0), AXLE_MM),
        wheel(radius, low, high),
        *more,
    ]
    name, role = ("left", "idle") if side < 0 else ("right", "back")
    return Body(name, mesh_from(solids), role)


def _wheel_labels(high: float = WHEEL_MM + 7, end_mm: float = END_MM) -> tuple[Label, Label]:
    return (
        Label(say("lesson.left-wheel"), (6.0 - end_mm, high, 0.0)),
        Label(say("lesson.right-wheel"), (end_mm - 6.0, high, 0.0)),
    )


@lru_cache(maxsize=2)
def rigid_axle(one_free: bool) -> Mechanism:
    """Build an axle that a pinion drives; its right wheel runs free where one alone drives."""
    radius, along, _ = cone_mm(DRIVEN_TEETH, DRIVER_TEETH, DRIVE_MODULE)
    driven = bevel(DRIVEN_TEETH, DRIVER_TEETH, DRIVE_MODULE, 8.0).translate((along, 0.0, 0.0))
    turning = [
        rod((-END_MM, 0.0, 0.0), (END_MM, 0.0, 0.0), AXLE_MM),
        driven,
        wheel(WHEEL_MM, -END_MM, 12.0 - END_MM),
    ]
    hub = [wheel(WHEEL_MM, END_MM - 16.0, END_MM - 4.0), tube(7.0, 0.0, END_MM - 4.0, END_MM - 1.0)]
    if not one_free:
        turning.append(wheel(WHEEL_MM, END_MM - 12.0, END_MM))
    pinion = [
        bevel(DRIVER_TEETH, DRIVEN_TEETH, DRIVE_MODULE, 8.0)
        .rotate((_gap_at(DRIVER_TEETH, -90.0), 0.0, 0.0))
        .rotate((0.0, 90.0, 0.0)),
        rod((0.0, 0.0, radius - 2), (0.0, 0.0, 62.0), AXLE_MM),
    ]
    motor = block((along - 14.0, -14.0, 62.0), (along + 14.0, 14.0, 92.0))
    bodies = [
        Body("left", mesh_from(turning), "run", driven=True),
        Body("pinion", mesh_from(pinion), "run", driven=True),
        Body("motor", mesh_from([motor])),
    ]
    if one_free:
        bodies.append(Body("right", mesh_from(hub), "back"))
    motor_label = Label(say("lesson.motor"), (along, 20.0, 77.0))
    return Mechanism(tuple(bodies), (*_wheel_labels(), motor_label))


def pose_rigid(one_free: bool, motion: Motion) -> Pose:
    """Pose the axle that is driven rigidly."""
    _, along, _ = cone_mm(DRIVEN_TEETH, DRIVER_TEETH, DRIVE_MODULE)
    turns = [
        (_forwards(motion.left), ORIGIN),
        (rotation("z", -motion.left * DRIVEN_TEETH / DRIVER_TEETH), (along, 0.0, 0.0)),
        (still(), ORIGIN),
    ]
    if one_free:
        turns.append((_forwards(motion.right), ORIGIN))
    return poses(*turns)


@lru_cache(maxsize=1)
def fair_beam() -> Mechanism:
    """Build a slotted beam, pulled at its middle, its ends on the pins of two sledges."""
    rails = [
        block((x - 9.0, -10.0, -110.0), (x + 9.0, -7.0, 90.0)) for x in (-BEAM_X_MM, 0.0, BEAM_X_MM)
    ]
    beam = block((-BEAM_MM, 2.0, -4.0), (BEAM_MM, 6.0, 4.0))
    beam -= rod((0.0, 0.0, 0.0), (0.0, 8.0, 0.0), 2.8)
    for sign in (-1.0, 1.0):
        low, high = sorted((sign * (BEAM_X_MM - 3.0), sign * (BEAM_MM - 2.5)))
        beam -= block((low, 0.0, -2.2), (high, 8.0, 2.2))

    def sledge(x: float) -> Solids:
        return [
            block((x - 7.0, -7.0, -9.0), (x + 7.0, 1.5, 9.0)),
            rod((x, 1.0, 0.0), (x, 9.0, 0.0), 2.0),
        ]

    middle = [
        block((-6.0, -7.0, -8.0), (6.0, 1.5, 8.0)),
        rod((0.0, 1.0, 0.0), (0.0, 10.0, 0.0), 2.6),
        rod((0.0, -3.0, -8.0), (0.0, -3.0, -100.0), 1.0),
    ]
    return Mechanism(
        (
            Body("rails", mesh_from(rails)),
            Body("beam", mesh_from([beam]), "run", driven=True),
            Body("middle", mesh_from(middle), "run", driven=True),
            Body("left", mesh_from(sledge(-BEAM_X_MM))),
            Body("right", mesh_from(sledge(BEAM_X_MM)), "back"),
        ),
        (
            Label(say("lesson.left-load"), (-BEAM_X_MM, -7.0, 32.0)),
            Label(say("lesson.right-load"), (BEAM_X_MM, -7.0, 32.0)),
            Label(say("lesson.pulled-here"), (0.0, -3.0, -104.0)),
        ),
    )


def pose_beam(motion: Motion) -> Pose:
    """Pose the beam: it tilts between the sledges, whose mean is its middle."""
    tilt = atan2(motion.left - motion.carrier, BEAM_X_MM)
    middle = (0.0, 0.0, -motion.carrier)
    return poses(
        (still(), ORIGIN),
        (rotation("y", -tilt), middle),
        (still(), middle),
        (still(), (0.0, 0.0, -motion.left)),
        (still(), (0.0, 0.0, -motion.right)),
    )


def _hoop(radius: float, pin_from: float) -> list["Manifold"]:
    """Make a hoop that is turned by hand, with a pin inwards to what it carries."""
    return [
        tube(radius + 2.0, radius, -1.5, 1.5),
        rod((0.0, radius + 1.0, 0.0), (0.0, pin_from, 0.0), 1.8),
        rod((0.0, -radius - 1.5, 0.0), (14.0, -radius - 1.5, 0.0), 2.2),
    ]


ARM_MM, SHORT_MM = 1.6, 42.0
"""Radius of bars and arms; where short half-axles end, so that the middle is seen large."""


def _side_arms(setting: Setting, count: int, long: float, side: int) -> Body:
    """Make the arms of one half-axle, drawn ahead by both their thicknesses: they touch."""
    x = side * setting.gap_mm
    lead = 2 * ARM_MM / setting.arm_mm
    arms = []
    for number in range(count):
        turn = 2 * pi * number / count - lead
        arms.append(rod((x, 0.0, 0.0), (x, long * cos(turn), long * sin(turn)), ARM_MM))
    return _half_axle(side, setting.gap_mm, arms, radius=16.0, wide=6.0, end_mm=SHORT_MM)


@lru_cache(maxsize=8)
def bar_carrier(setting: Setting) -> Mechanism:
    """Build a bar on a pin of a hoop that pushes one arm of either half-axle."""
    up = (0.0, setting.arm_mm, 0.0)
    bar = [
        rod((-setting.bar_mm, 0.0, 0.0), (setting.bar_mm, 0.0, 0.0), ARM_MM),
        rod((0.0, -2.5, 0.0), (0.0, 2.5, 0.0), 3.4),
    ]
    rim = setting.spoke_mm + 9.0
    return Mechanism(
        (
            Body("carrier", mesh_from(_hoop(rim, setting.arm_mm)), "run", driven=True),
            Body("bar", mesh_from([b.translate(up) for b in bar]), "run"),
            _side_arms(setting, 1, setting.spoke_mm, -1),
            _side_arms(setting, 1, setting.spoke_mm, 1),
        ),
        (*_wheel_labels(22.0, SHORT_MM), Label(say("lesson.carrier"), (0.0, -rim - 8.0, 0.0))),
    )


def pose_bar(motion: Motion, setting: Setting) -> Pose:
    """Pose the bar; one that has slipped off lies along the carrier."""
    carrier = _forwards(motion.carrier)
    ahead, limit = motion.carrier - motion.left, let_go_rad(setting)
    tilt = pi / 2 if motion.slipped else bar_tilt_rad(setting, max(min(ahead, limit), -limit))
    return poses(
        (carrier, ORIGIN),
        (carrier @ rotation("y", tilt), _carried(carrier, tilt, setting.arm_mm)),
        (_forwards(motion.left), ORIGIN),
        (_forwards(motion.right), ORIGIN),
    )


def _carried(carrier: Floats, tilt: float, arm_mm: float) -> tuple[float, float, float]:
    """Keep a body that tilts about its own pin on that pin: it is drawn where the pin is."""
    up = (0.0, arm_mm, 0.0)
    x, y, z = carrier @ (up - rotation("y", tilt) @ up)
    return float(x), float(y), float(z)


@lru_cache(maxsize=16)
def star_carrier(setting: Setting) -> Mechanism:
    """Build a star of arms on a pin of a hoop, and a star on either half-axle."""
    long, side = (min(mm, 34.0) for mm in reach_mm(setting))
    rim = max(side, setting.arm_mm + 6.0) + 6.0
    up = (0.0, setting.arm_mm, 0.0)
    star = [rod((0.0, -2.5, 0.0), (0.0, 2.5, 0.0), 4.0)]
    for number in range(setting.arms):
        turn = 2 * pi * number / setting.arms
        star.append(rod(ORIGIN, (long * cos(turn), 0.0, long * sin(turn)), ARM_MM))
    return Mechanism(
        (
            Body("carrier", mesh_from(_hoop(rim, setting.arm_mm)), "run", driven=True),
            Body("star", mesh_from([s.translate(up) for s in star]), "run"),
            _side_arms(setting, setting.arms, side, -1),
            _side_arms(setting, setting.arms, side, 1),
        ),
        (
            *_wheel_labels(22.0, SHORT_MM),
            Label(say("lesson.star-of-arms"), (0.0, rim + 8.0, 0.0)),
        ),
    )


def pose_star(motion: Motion, setting: Setting) -> Pose:
    """Pose the star."""
    carrier = _forwards(motion.carrier)
    ahead = motion.carrier - motion.left
    tilt = star_tilt_rad(setting, ahead) if star_turns(setting) else 0.0
    return poses(
        (carrier, ORIGIN),
        (carrier @ rotation("y", tilt), _carried(carrier, tilt, setting.arm_mm)),
        (_forwards(motion.left), ORIGIN),
        (_forwards(motion.right), ORIGIN),
    )


@lru_cache(maxsize=1)
def pinion_and_racks() -> Mechanism:
    """Build a pinion on a sledge that is pushed, a rack on either side of it."""
    r = RACK_RADIUS_MM
    left = rack(RACK_TEETH, RACK_MODULE, 8.0, 9.0)
    sledge = [
        block((-8.0, -16.0, -12.0), (8.0, -6.0, 12.0)),
        rod((0.0, -6.0, 0.0), (0.0, 8.0, 0.0), 3.0),
        rod((0.0, -11.0, 12.0), (0.0, -11.0, 84.0), 2.0),
    ]
    bed = block((-r - 16.0, -19.0, -126.0), (r + 16.0, -16.0, 68.0))
    pinion = spur(RACK_PINION, RACK_MODULE, 8.0, 3.2).rotate((-90.0, 0.0, 0.0))
    return Mechanism(
        (
            Body("bed", mesh_from([bed])),
            Body("sledge", mesh_from(sledge), "run", driven=True),
            Body("pinion", mesh_from([pinion]), "run", driven=True),
            Body("left", mesh_from([left])),
            Body("right", mesh_from([left.rotate((0.0, 180.0, 0.0))]), "back"),
        ),
        (
            Label(say("lesson.left-rack"), (-r - 20.0, -12.0, 40.0)),
            Label(say("lesson.right-rack"), (r + 20.0, -12.0, 40.0)),
            Label(say("lesson.pushed-here"), (0.0, -6.0, 90.0)),
        ),
    )


def pose_racks(motion: Motion) -> Pose:
    """Pose pinion and racks."""
    r = RACK_RADIUS_MM
    middle = (0.0, 0.0, -motion.carrier)
    return poses(
        (still(), ORIGIN),
        (still(), middle),
        (rotation("y", -(motion.left - motion.carrier) / r), middle),
        (still(), (-r, 0.0, -motion.left)),
        (still(), (r, 0.0, -motion.right)),
    )


def _planet(teeth: int, mate: int, module: float, face: float) -> "Manifold":
    """Make a planet above the axle, a gap towards either side gear."""
    gear = bevel(teeth, mate, module, face).rotate((180.0 / teeth, 0.0, 0.0))
    return gear.rotate((0.0, 0.0, -90.0))


def _planet_turn(motion: Motion, number: int, count: int, ratio: float) -> Floats:
    """Turn a planet with its carrier, to its place round the axle, and about its own pin."""
    at = 2 * pi * number / count
    back = motion.carrier - motion.left  # as the left gear is turned, in the frame
    return _forwards(motion.carrier) @ rotation("x", at) @ rotation("y", (back - at) * ratio)


@lru_cache(maxsize=12)
def bevel_carrier(planets: int, ring: bool) -> Mechanism:
    """Build two side gears, and planets on a hoop; with a ring wheel a pinion drives that."""
    radius, along, _ = cone_mm(SIDE_TEETH, PLANET_TEETH, MODULE)
    out = radius + 6.0
    gear = bevel(SIDE_TEETH, PLANET_TEETH, MODULE, FACE_MM)
    hub = tube(9.0, 0.0, -along - 7.0, -along)
    sides = [
        _half_axle(
            side,
            along,
            [s.rotate((0.0, turn, 0.0)) for s in (gear, hub)],
            radius=22.0,
            wide=9.0,
        )
        for side, turn in ((-1, 0.0), (1, 180.0))
    ]
    hoop = [tube(out + 6.0, out + 2.0, -4.0, 4.0)]
    for number in range(planets):
        pin = rod((0.0, radius - 1.0, 0.0), (0.0, out + 4.0, 0.0), 2.2)
        hoop.append(pin.rotate((360.0 * number / planets, 0.0, 0.0)))
    labels = [*_wheel_labels(29.0), Label(say("lesson.planet"), (0.0, out + 12.0, 0.0))]
    bodies = []
    if ring:
        crown_r, far, _ = cone_mm(PINION_TEETH, RING_TEETH, RING_MODULE)
        hole = tube(out + 1.0, 0.0, -40.0, 20.0)
        hoop.append(bevel(RING_TEETH, PINION_TEETH, RING_MODULE, 9.0) - hole)
        hoop.append(tube(out + 6.0, out + 2.0, -crown_r - 2.0, 0.0))
        pinion = (
            bevel(PINION_TEETH, RING_TEETH, RING_MODULE, 9.0)
            .rotate((_gap_at(PINION_TEETH, -90.0), 0.0, 0.0))
            .rotate((0.0, 90.0, 0.0))
        )
        shaft = rod((0.0, 0.0, far - 2.0), (0.0, 0.0, 110.0), AXLE_MM)
        bodies.append(Body("pinion", mesh_from([pinion, shaft]), "run", driven=True))
        labels.append(Label(say("lesson.pinion"), (0.0, 18.0, far + 10.0)))
        labels.append(Label(say("lesson.ring-wheel"), (-12.0, -far - 8.0, 0.0)))
    else:
        hoop.append(rod((4.0, -out - 4.0, 0.0), (18.0, -out - 4.0, 0.0), 2.4))
        labels.append(Label(say("lesson.carrier"), (0.0, -out - 14.0, 0.0)))
    planet = mesh_from([_planet(PLANET_TEETH, SIDE_TEETH, MODULE, FACE_MM)])
    return Mechanism(
        (
            Body("carrier", mesh_from(hoop), "run", driven=True),
            *sides,
            *(Body(f"planet {n + 1}", planet, "run") for n in range(planets)),
            *bodies,
        ),
        tuple(labels),
    )


def pose_bevel(planets: int, ring: bool, motion: Motion) -> Pose:
    """Pose bevel gears on their hoop."""
    ratio = SIDE_TEETH / PLANET_TEETH
    turns = [
        (_forwards(motion.carrier), ORIGIN),
        (_forwards(motion.left), ORIGIN),
        (_forwards(motion.right), ORIGIN),
        *((_planet_turn(motion, n, planets, ratio), ORIGIN) for n in range(planets)),
    ]
    if ring:
        turns.append((rotation("z", -motion.carrier * RING_TEETH / PINION_TEETH), ORIGIN))
    return poses(*turns)


CAGE_MM = 17.5
"""How far the compact differential's plates are from the middle."""


def _cage(radius: float) -> list["Manifold"]:
    """Make two plates with bars between them, and a cross pin for two planets."""
    cage = [
        tube(radius, AXLE_MM + 0.4, -CAGE_MM - 3.0, -CAGE_MM),
        tube(radius, AXLE_MM + 0.4, CAGE_MM, CAGE_MM + 3.0),
        rod((0.0, -radius + 1.0, 0.0), (0.0, radius - 1.0, 0.0), 2.0),
    ]
    for turn in (0.0, 180.0):
        bar = block((-CAGE_MM, radius - 4.0, -5.0), (CAGE_MM, radius, 5.0))
        cage.append(bar.rotate((turn, 0.0, 0.0)))
    return cage


@lru_cache(maxsize=24)
def compact(offset_mm: float, road: bool) -> Mechanism:
    """Build a compact differential: four alike bevel gears in a cage with a crown wheel.

    Seen on its ``road`` with a lock, or with the propeller shaft beneath the floor.
    """
    radius, along, _ = cone_mm(SMALL_TEETH, SMALL_TEETH, SMALL_MODULE)
    gear = bevel(SMALL_TEETH, SMALL_TEETH, SMALL_MODULE, SMALL_FACE_MM)
    sides = []
    for side, turn in ((-1, 0.0), (1, 180.0)):
        more = [gear.rotate((0.0, turn, 0.0))]
        if side > 0 and road:  # a square for the lock's sleeve
            more.append(block((CAGE_MM + 5.0, -3.4, -3.4), (CAGE_MM + 24.0, 3.4, 3.4)))
        sides.append(_half_axle(side, along, more))
    cage = [*_cage(radius + 9.0)]
    plate = -CAGE_MM - 3.0
    cage.append(tube(CROWN_MM + 3.0, radius + 6.0, plate - 3.0, plate))
    for number in range(CROWN_TEETH):
        tooth = block(
            (plate, CROWN_MM - 6.0, -CROWN_MODULE * 0.62),
            (plate + 3.4, CROWN_MM + 3.0, CROWN_MODULE * 0.62),
        )
        cage.append(tooth.rotate((360.0 * (number + 0.5) / CROWN_TEETH, 0.0, 0.0)))
    planets = [
        _planet(SMALL_TEETH, SMALL_TEETH, SMALL_MODULE, SMALL_FACE_MM),
        _planet(SMALL_TEETH, SMALL_TEETH, SMALL_MODULE, SMALL_FACE_MM),
    ]
    bodies = [
        Body("carrier", mesh_from(cage), "run", driven=True),
        *sides,
        *(Body(f"planet {n + 1}", mesh_from([planet]), "run") for n, planet in enumerate(planets)),
    ]
    pitch = CROWN_PINION * CROWN_MODULE / 2
    pinion = [
        spur(CROWN_PINION, CROWN_MODULE, 10.0).translate((0.0, 0.0, CROWN_MM - 1.0)),
        rod((0.0, 0.0, CROWN_MM - 6.0), (0.0, 0.0, 130.0), AXLE_MM),
    ]
    bodies.append(Body("pinion", mesh_from(pinion), "run", driven=True))
    labels = [*_wheel_labels()]
    x = plate + 1.9 + pitch
    if road:
        sleeve = tube(9.0, 0.0, CAGE_MM + 12.0, CAGE_MM + 19.0)
        sleeve -= block((CAGE_MM, -3.6, -3.6), (CAGE_MM + 40.0, 3.6, 3.6))
        dogs = [
            block((CAGE_MM + 9.0, 4.6, -2.0), (CAGE_MM + 12.5, 8.6, 2.0)).rotate((t, 0.0, 0.0))
            for t in (0.0, 180.0)
        ]
        bodies.append(Body("lock", mesh_from([sleeve, *dogs]), "idle"))
        low = -WHEEL_MM - 3.0
        for name, at in (("ground left", -END_MM + 6.0), ("ground right", END_MM - 6.0)):
            ground = block((at - 20.0, low, -26.0), (at + 20.0, low + 3.0, 26.0))
            bodies.append(Body(name, mesh_from([ground])))
        labels.append(Label(say("lesson.lock"), (CAGE_MM + 15.0, 14.0, 0.0)))
    else:
        floor = block((x + 6.0, 7.0 - offset_mm, 58.0), (x + 44.0, 9.0 - offset_mm, 128.0))
        bodies.append(Body("floor", mesh_from([floor])))
        labels.append(Label(say("lesson.floor"), (x + 34.0, 15.0 - offset_mm, 92.0)))
        labels.append(Label(say("lesson.propeller-shaft"), (x - 10.0, -12.0 - offset_mm, 116.0)))
    return Mechanism(tuple(bodies), tuple(labels))


def pose_compact(offset_mm: float, road: bool, motion: Motion, doing: Doing) -> Pose:
    """Pose the compact differential; the lock's sleeve slides in, the ground gives way."""
    pitch = CROWN_PINION * CROWN_MODULE / 2
    turns: list[tuple[Floats, tuple[float, float, float]]] = [
        (_forwards(motion.carrier), ORIGIN),
        (_forwards(motion.left), ORIGIN),
        (_forwards(motion.right), ORIGIN),
        *((_planet_turn(motion, n, 2, 1.0), ORIGIN) for n in range(2)),
        (
            rotation("z", -motion.carrier * CROWN_TEETH / CROWN_PINION),
            (-CAGE_MM - 1.1 + pitch, -offset_mm, 0.0),
        ),
    ]
    if road:
        gone = -LOCK_MM if doing.locked else 0.0
        turns.append((_forwards(motion.right), (gone, 0.0, 0.0)))
        turns.append((still(), (0.0, -LIFT_MM if doing.lifted else 0.0, 0.0)))
        turns.append((still(), ORIGIN))
    else:
        turns.append((still(), ORIGIN))
    return poses(*turns)


@lru_cache(maxsize=8)
def planetary(planets: int) -> Mechanism:
    """Build a sun, planets on a carrier, and a ring: the carrier drives sun and ring."""
    m, wide = PLANETARY_MODULE, 9.0
    far = (SUN + PLANET) * m / 2
    sun = [
        spur(SUN, m, wide),
        rod((0.0, 0.0, 0.0), (0.0, 0.0, -70.0), AXLE_MM),
        spur(24, 1.5, 5.0).translate((0.0, 0.0, -66.0)),
    ]
    rim = RING * m / 2 + 6.0
    ring = [
        internal_ring(RING, m, wide, rim),
        rod((0.0, 0.0, 20.0), (0.0, 0.0, 70.0), AXLE_MM),
        spur(24, 1.5, 5.0).translate((0.0, 0.0, 66.0)),
    ]
    for number in range(3):
        turn = 2 * pi * (number + 0.5) / 3
        x, y = (rim - 3.0) * cos(turn), (rim - 3.0) * sin(turn)
        ring.append(rod((x, y, 4.0), (x, y, 21.5), 2.0))
        ring.append(rod((x, y, 20.0), (0.0, 0.0, 20.0), 2.2))
    # the carrier comes in over a sleeve round the sun's shaft, with a gear on it
    carrier = [
        rod((0.0, 0.0, -34.0), (0.0, 0.0, -9.0), 6.0),
        spur(22, 2.0, 6.0).translate((0, 0, -30.0)),
    ]
    for number in range(planets):
        turn = 2 * pi * number / planets
        x, y = far * cos(turn), far * sin(turn)
        carrier.append(rod((x, y, -10.0), (x, y, 5.0), 2.2))
        carrier.append(rod((0.0, 0.0, -9.5), (x, y, -9.5), 2.6))
    planet = mesh_from([spur(PLANET, m, wide, 2.3)])
    return Mechanism(
        (
            Body("carrier", mesh_from(carrier), "run", driven=True),
            Body("left", mesh_from(sun)),
            Body("right", mesh_from(ring), "back"),
            *(Body(f"planet {n + 1}", planet, "run") for n in range(planets)),
        ),
        (
            Label(say("lesson.sun-to-the-front-axle"), (-66.0, 26.0, 0.0)),
            Label(say("lesson.ring-to-the-rear-axle"), (60.0, 26.0, 0.0)),
            Label(say("lesson.carrier-driven"), (-30.0, -32.0, 0.0)),
        ),
    )


def pose_planetary(planets: int, motion: Motion) -> Pose:
    """Pose it; built about z, which lies along the axle."""
    lay = rotation("y", pi / 2)
    far = (SUN + PLANET) * PLANETARY_MODULE / 2
    carrier, sun, ring = -motion.carrier, -motion.left, -motion.right
    turns: list[tuple[Floats, tuple[float, float, float]]] = [
        (lay @ rotation("z", angle), ORIGIN) for angle in (carrier, sun, ring)
    ]
    for number in range(planets):
        at = 2 * pi * number / planets
        spin = -(sun - carrier - at) * SUN / PLANET
        round_ = carrier + at
        x, y, z = lay @ (far * cos(round_), far * sin(round_), 0.0)
        turns.append((lay @ rotation("z", round_ + spin), (float(x), float(y), float(z))))
    return poses(*turns)
