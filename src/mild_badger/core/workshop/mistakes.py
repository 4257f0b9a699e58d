"""The mistakes people make when a box goes together, beside the step they belong to.

All of it is common practice without a source.
"""

from mild_badger.core.message import say
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["mistakes_for"]

USUAL: dict[str, tuple[str, ...]] = {
    "wall": (say("workshop.the-wall-the-wrong-way-round-its-holes-are"),),
    "shaft": (say("workshop.two-shafts-of-nearly-one-length-changed-over"),),
    "gear": (
        say("workshop.driver-and-driven-changed-over-they-fit-the"),
        say("workshop.a-gear-not-square-on-its-shaft-it-wobbles"),
    ),
    "free gear": (say("workshop.a-gear-meant-to-run-free-gets-glue-from-its"),),
    "sleeve": (say("workshop.the-sleeve-turned-round-its-dogs-then-face"),),
    "fork": (say("workshop.the-fork-tight-in-its-groove-it-drags-warms"),),
    "rail": (say("workshop.a-burr-where-the-rail-was-cut-the-lever-then"),),
    "spacer": (say("workshop.a-spacer-left-out-or-changed-for-another-the"),),
    "bearing": (
        say("workshop.a-roller-bearing-the-wrong-way-round-or"),
        say("workshop.glue-or-dust-in-the-bearing-shield-it-while"),
    ),
    "tie rod": (say("workshop.nuts-pulled-tight-one-by-one-the-walls-lean"),),
    "post": (say("workshop.the-idlers-post-turned-its-shaft-then-leans"),),
    "drum": (say("workshop.the-drum-a-position-out-set-its-neutral-mark"),),
    "eccentric": (say("workshop.an-eccentric-at-anothers-angle"),),
    "pawl": (say("workshop.a-pawl-the-wrong-way-round"),),
    "pawl ring": (say("workshop.a-clutch-the-wrong-way-round"),),
    "coupling": (say("workshop.the-coupling-half-a-turn-out-where-it-has-a"),),
    "last: hand": (say("workshop.going-on-to-the-motor-at-once-what-binds-by"),),
}


def mistakes_for(vehicle: Vehicle, kind: str) -> tuple[str, ...]:
    """List what is often done wrong with parts of a kind, or in one of the last steps."""
    mistakes = list(USUAL.get(kind, ()))
    if kind == "gear" and vehicle.making.bore == "keyed" and vehicle.kit.any_seat:
        mistakes.append(say("workshop.keyways-not-in-line-turn-every-key-to-the"))
    if kind == "crown":
        side = vehicle.final_drive.crown_side
        mistakes.append(say("workshop.the-crown-wheel-on-the-wrong-side-it-belongs", side=side))
    if kind == "coupling" and vehicle.running is not None:
        mistakes.append(say("workshop.two-joints-of-one-shaft-out-of-phase-their"))
    return tuple(mistakes)
