"""A stepless lever drive solved over the turn of its throws: strokes, ratchets, output, torque.

Ideal sine strokes with N even ratchets give the mean (N/π) sin(π/N) of the peak and a trough of
cos(π/N) (the largest of N shifted sines over a turn). Pawls gain whole teeth only: each bears on
the last tooth it has passed, and what is lost in the joints is passed through at every reversal.
"""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import atan2, degrees, floor, pi, radians

import numpy as np
from numpy.typing import NDArray

from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.lever.model import MAX_RATCHETS, LeverDrive
from mild_badger.core.message import say, say_count

__all__ = [
    "LEAN_DEG",
    "LeverLinkage",
    "LeverMotion",
    "LeverPose",
    "arms_mm",
    "best_counts",
    "describe_count",
    "describe_motion",
    "fulcrum_for",
    "jam_at",
    "lever_efficiency",
    "mean_turns",
    "mechanism",
    "motion_of",
    "pose_at",
    "range_of",
    "stroke_mm",
]

LEAN_DEG = 50.0
"""A lever that leans further jams in its guides (an estimate, no source)."""
WORTH_IT = 1.1
FIND_STEPS, NEAR, REACHED = 12, 3, 0.1
CLEAR_MM = 10.0
STEPS, SETTLE_TURNS, SEEN_TURNS = 360, 2, 6
QUICK_STEPS, QUICK_TURNS = 180, 2
"""While a fulcrum is dragged: half the steps, and fewer turns to take the mean over."""
JOINTS = 3
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class LeverMotion:
    """One turn of the throws, settled.

    ``speeds`` are the wheel's turns for one of the throws at each of so many equal steps of the
    last turn; ``mean`` is over several turns, since whole teeth may take turns to come round.
    ``driving`` counts for each ratchet the share of the turn in which it drives; ``efficiency`` is
    what three joints leave; ``jams`` says why nothing moves, "" where it does.
    """

    speeds: tuple[float, ...]
    mean: float
    peak: float
    trough: float
    stroke_mm: float
    arms_mm: tuple[float, float]
    teeth_a_stroke: float
    driving: tuple[float, ...]
    efficiency: float
    jams: str = ""

    @property
    def pulsation(self) -> float:
        """The input torque's peak over its mean, under a constant load."""
        return self.peak / self.mean if self.mean else 0.0

    def input_torque(self, load_n_mm: float) -> tuple[float, ...]:
        """Give the input torque at each step: work in is work out and the joints' losses."""
        return tuple(load_n_mm * speed / self.efficiency for speed in self.speeds)


@dataclass(frozen=True)
class LeverPose:
    """One ratchet's mechanism: pin of the throw, both ends of the lever, in mm.

    The fulcrum is the origin of heights; x runs along the lever from its input pin.
    """

    pin: tuple[float, float]
    input: tuple[float, float]
    output: tuple[float, float]
    lean_deg: float


@dataclass(frozen=True)
class LeverLinkage:
    """All parts as a picture wants them, mm, as in :class:`Pose`.

    ``centre`` of the throws, a pose for each ratchet, the first pawl's nose, the wheel's middle;
    ``bounds`` left, low, right, high over the whole turn.
    """

    centre: tuple[float, float]
    poses: tuple[LeverPose, ...]
    nose: tuple[float, float]
    wheel: tuple[float, float]
    bounds: tuple[float, float, float, float]


def stroke_mm(drive: LeverDrive, angle_deg: float) -> float:
    """Give the push-pull from its middle: e cos θ of a yoke, the slider-crank's of a crank."""
    return float(_strokes(drive, np.array([radians(angle_deg)]))[0])


def _strokes(drive: LeverDrive, angles: Floats) -> Floats:
    e = drive.throw_mm
    if drive.motion == "yoke":
        strokes: Floats = e * np.cos(angles)
        return strokes
    across = np.maximum(drive.rod_mm**2 - (e * np.sin(angles)) ** 2, 0.0)
    slider: Floats = e * np.cos(angles) + np.sqrt(across) - drive.rod_mm
    return slider


def pose_at(drive: LeverDrive, angle_deg: float, ratchet: int = 0) -> LeverPose:
    """Give where one ratchet's parts stand."""
    turn = radians(angle_deg + drive.phases[ratchet])
    s = stroke_mm(drive, angle_deg + drive.phases[ratchet])
    a, b = drive.fulcrum_mm, drive.lever_mm - drive.fulcrum_mm
    out = -s * b / a
    return LeverPose(
        (drive.throw_mm * float(np.sin(turn)), drive.throw_mm * float(np.cos(turn))),
        (0.0, s),
        (drive.lever_mm, out),
        degrees(atan2(s, a)),
    )


def mechanism(drive: LeverDrive, angle_deg: float) -> LeverLinkage:
    """Give the places of all parts with the throws at an angle, and what bounds them in a turn."""
    e, long, pawl = drive.throw_mm, drive.lever_mm, drive.pawl_mm
    centre = (0.0, -drive.rod_mm if drive.motion == "crank" else -(2.5 * e + CLEAR_MM))
    poses = tuple(pose_at(drive, angle_deg, n) for n in range(drive.ratchets))
    wheel = (long + drive.wheel_mm, pawl)
    swing = e * (long - drive.fulcrum_mm) / drive.fulcrum_mm
    return LeverLinkage(
        centre,
        poses,
        (long, poses[0].output[1] + pawl),
        wheel,
        (
            -e - CLEAR_MM,
            min(centre[1] - e, -swing),
            wheel[0] + drive.wheel_mm,
            max(e, swing, wheel[1] + drive.wheel_mm),
        ),
    )


def jam_at(drive: LeverDrive, fulcrum_mm: float) -> str:
    """Say why a drive jams with its fulcrum at a place; "" where it runs."""
    if drive.motion == "crank" and drive.rod_mm <= drive.throw_mm:
        return say(
            "drivetrain.a-rod-of-cannot-follow-a-throw-of-it-must-be",
            rod_mm=in_mm(drive.rod_mm),
            throw_mm=in_mm(drive.throw_mm),
        )
    lean = degrees(atan2(float(np.abs(_strokes(drive, np.array([0.0, pi]))).max()), fulcrum_mm))
    if lean > LEAN_DEG:
        return say(
            "drivetrain.with-the-fulcrum-from-its-input-the-lever",
            fulcrum_mm=in_mm(fulcrum_mm, significant=4),
            lean=lean,
            lean_deg=LEAN_DEG,
        )
    return ""


def lever_efficiency(drive: LeverDrive) -> float:
    """Give what three joints leave of the work."""
    return float((1.0 - drive.loss) ** JOINTS)


def arms_mm(drive: LeverDrive) -> tuple[float, float]:
    """Give the lever's arms, input and output, with the fulcrum where it stands."""
    return drive.fulcrum_mm, drive.lever_mm - drive.fulcrum_mm


def motion_of(
    drive: LeverDrive, fulcrum_mm: float | None = None, *, quick: bool = False
) -> LeverMotion:
    """Solve a drive with its fulcrum where it stands, or at another place.

    ``quick`` is for every frame of a drag: the same solution on a coarser turn.
    """
    a = drive.fulcrum_mm if fulcrum_mm is None else fulcrum_mm
    detail = (QUICK_STEPS, QUICK_TURNS) if quick else (STEPS, SEEN_TURNS)
    return _motion(drive.model_copy(update={"fulcrum_mm": drive.stop_low_mm}), a, *detail)


@lru_cache(maxsize=512)
def _motion(drive: LeverDrive, a: float, steps: int, turns: int) -> LeverMotion:
    b = drive.lever_mm - a
    efficiency = lever_efficiency(drive)
    jams = jam_at(drive, a)
    if jams:
        return LeverMotion(
            (0.0,) * steps, 0, 0, 0, 0, (a, b), 0, (0.0,) * drive.ratchets, efficiency, jams
        )
    angles = np.linspace(0.0, 2 * pi, steps, endpoint=False)
    lost = drive.pin_lost_mm * b / a + drive.pawl_lost_mm
    pitch = 2 * pi * drive.wheel_mm / drive.teeth
    paths = []
    for phase in drive.phases:
        path = _strokes(drive, angles + radians(phase)) * b / a
        way = _through(path, lost)
        paths += [way, -way] if drive.two_sided else [way]  # play is the same either way round
    wheel, drove = _ratchet(paths, pitch, SETTLE_TURNS + turns)
    seen = wheel[SETTLE_TURNS * steps :]
    mean = float(seen[-1] - seen[0]) / (2 * pi * drive.wheel_mm * turns)
    step = 2 * pi / steps
    speeds = np.diff(wheel[-steps - 1 :]) / (drive.wheel_mm * step)
    span = float(np.ptp(_strokes(drive, angles)) * b / a)
    each = drove[:, SETTLE_TURNS * steps + 1 :].mean(axis=1)
    if drive.two_sided:
        each = each[0::2] + each[1::2]
    gained = mean * drive.teeth / (drive.ratchets * (2 if drive.two_sided else 1))
    return LeverMotion(
        tuple(float(s) for s in speeds),
        mean,
        float(speeds.max()),
        float(speeds.min()),
        span,
        (a, b),
        gained,
        tuple(float(share) for share in each),
        efficiency,
    )


def _through(path: Floats, lost: float) -> Floats:
    """Pass a turn through lost motion: what follows stands still while the play is taken up.

    Plain numbers, not arrays of one: the loop runs while a fulcrum is dragged.
    """
    if lost <= 0:
        return path
    points, half = path.tolist(), lost / 2
    here, crossings = points[0], points
    for _ in range(2):  # the second turn is settled
        crossings = []
        for at in points:
            here = min(max(here, at - half), at + half)
            crossings.append(here)
    return np.array(crossings)


def _ratchet(paths: list[Floats], pitch: float, turns: int) -> tuple[Floats, NDArray[np.bool_]]:
    """Drive the wheel: every pawl bears on the last tooth it has passed, the foremost drives.

    Plain lists: the loop runs while a fulcrum is dragged, and most steps neither catch nor pass.
    """
    many = range(len(paths))
    at, wheel, who = 0.0, [0.0], [-1]
    bears = [floor(-float(path[0]) / pitch + 1e-9) * pitch for path in paths]
    whole = pitch * (1 - 1e-9)
    for places in np.array(paths).T.tolist() * turns:
        reach = [place + bear for place, bear in zip(places, bears, strict=True)]
        driver, foremost = -1, max(reach)
        if foremost > at + 1e-12:
            at, driver = foremost, reach.index(foremost)
        if at - min(reach) >= whole:
            for n in many:
                if at - reach[n] >= whole:
                    bears[n] = floor((at - places[n]) / pitch + 1e-9) * pitch
        wheel.append(at)
        who.append(driver)
    drove = np.array(who)
    return np.array(wheel), np.array([drove == n for n in many])


def describe_motion(drive: LeverDrive, motion: LeverMotion) -> str:
    """Say in a sentence or two what a drive does with its fulcrum where it stands."""
    if motion.jams:
        return say("drivetrain.it-jams", jams=motion.jams)
    if motion.mean <= 0:
        return say("drivetrain.the-stroke-is-too-short-to-advance-the")
    share = motion.trough / motion.peak if motion.peak else 0.0
    low, high = (m.mean for m in (range_of(drive)[0][1], range_of(drive)[-1][1]))
    return say(
        "drivetrain.the-wheel-turns-for-one-of-the-throws-to",
        mean=motion.mean,
        low=min(low, high),
        low_2=max(low, high),
        share=share,
        pulsation=motion.pulsation,
        stroke_mm=in_mm(motion.stroke_mm, 1),
        teeth_a_stroke=motion.teeth_a_stroke,
        efficiency=motion.efficiency,
    )


def describe_count(drive: LeverDrive) -> str:
    """Say how the input's torque peaks with so many even ratchets, and how many are worth it."""
    counts = best_counts(drive)
    if any(motion.mean <= 0 for _, motion in counts):
        return ""
    listed = ", ".join(f"{motion.pulsation:.2f}" for _, motion in counts)
    least = min(motion.pulsation for _, motion in counts)
    enough = next(n for n, motion in counts if motion.pulsation <= least * WORTH_IT)
    return say(
        "drivetrain.with-1-to-even-ratchets-the-torque-peaks-at",
        count_of_counts=len(counts),
        listed=listed,
        enough=enough,
        word=say_count("noun.is", enough),
        worth_it=WORTH_IT - 1,
    )


def mean_turns(drive: LeverDrive, fulcrum_mm: float | None = None) -> Fraction:
    """Give the wheel's mean turns for one of the throws, as a fraction for the drivetrain."""
    return Fraction(motion_of(drive, fulcrum_mm).mean).limit_denominator(10_000)


@lru_cache(maxsize=256)
def fulcrum_for(drive: LeverDrive, turns: float) -> float | None:
    """Find where the fulcrum gives so many turns of the wheel for one of the throws, mm.

    The mean falls as the fulcrum slides out, in steps of whole teeth: halving finds the place, and
    of the places around it the nearest is taken. None where even the stops do not reach it within
    a tenth.
    """
    low, high = drive.stop_low_mm, drive.stop_high_mm
    for _ in range(FIND_STEPS):
        middle = (low + high) / 2
        motion = motion_of(drive, middle, quick=True)
        if motion.jams or motion.mean > turns:
            low = middle
        else:
            high = middle
    near = [
        min(max(round(low + n * 0.1, 1), drive.stop_low_mm), drive.stop_high_mm)
        for n in range(-NEAR, NEAR + 1)
    ]
    runs = {mm: motion.mean for mm in near if not (motion := motion_of(drive, mm)).jams}
    if not runs:
        return None
    best = min(runs, key=lambda mm: abs(runs[mm] - turns))
    return best if abs(runs[best] / turns - 1) < REACHED else None


def range_of(drive: LeverDrive, places: int = 13) -> tuple[tuple[float, LeverMotion], ...]:
    """Solve the drive with its fulcrum at places from stop to stop."""
    low, high = drive.stop_low_mm, drive.stop_high_mm
    at = [low + (high - low) * n / (places - 1) for n in range(places)]
    return tuple((mm, motion_of(drive, round(mm, 4))) for mm in at)


def best_counts(drive: LeverDrive) -> tuple[tuple[int, LeverMotion], ...]:
    """Solve the drive with one to six even ratchets, everything else as it is."""
    return tuple(
        (n, motion_of(drive.model_copy(update={"ratchets": n, "phases_deg": ()})))
        for n in range(1, MAX_RATCHETS + 1)
    )
