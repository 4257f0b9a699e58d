"""The mistakes people make when a box goes together, beside the step they belong to.

All of it is common practice without a source.
"""

from mild_badger.core.vehicle.model import Vehicle

__all__ = ["mistakes_for"]

USUAL: dict[str, tuple[str, ...]] = {
    "wall": ("The wall the wrong way round: its holes are drawn as seen from the input end.",),
    "shaft": ("Two shafts of nearly one length changed over: lay them side by side first.",),
    "gear": (
        "Driver and driven changed over: they fit the same distance and give another ratio.",
        "A gear not square on its shaft: it wobbles and clicks once a turn.",
    ),
    "free gear": ("A gear meant to run free gets glue from its neighbour, or sits too tight.",),
    "sleeve": ("The sleeve turned round: its dogs then face the wrong gear.",),
    "fork": ("The fork tight in its groove: it drags, warms and wears.",),
    "rail": ("A burr where the rail was cut: the lever then feels stiff in one gear only.",),
    "spacer": ("A spacer left out or changed for another: the gears no longer line up.",),
    "bearing": (
        "A roller bearing the wrong way round, or pressed in by its inner ring.",
        "Glue or dust in the bearing: shield it while you work.",
    ),
    "tie": ("Nuts pulled tight one by one: the walls lean and the shafts bind.",),
    "post": ("The idler's post turned: its shaft then leans.",),
    "last: coupling": ("The coupling half a turn out where it has a key.",),
    "last: hand": ("Going on to the motor at once: what binds by hand breaks under power.",),
}


def mistakes_for(vehicle: Vehicle, kind: str) -> tuple[str, ...]:
    """List what is often done wrong with parts of a kind, or in one of the last steps."""
    mistakes = list(USUAL.get(kind, ()))
    if kind == "gear" and vehicle.making.bore == "keyed" and vehicle.kit.any_seat:
        mistakes.append("Keyways not in line: turn every key to the same mark before you fix it.")
    if kind == "rail" and vehicle.shifting.actuation == "drum":
        mistakes.append("The drum a position out: set its neutral mark up before the forks go in.")
    if kind == "last: crown":
        side = vehicle.final_drive.crown_side
        mistakes.append(
            f"The crown wheel on the wrong side: it belongs on the {side} of the pinion, else the "
            "vehicle has one forward gear and many reverses."
        )
    if kind == "last: coupling" and vehicle.running is not None:
        mistakes.append("Two joints of one shaft out of phase: their forks must lie in one plane.")
    return tuple(mistakes)
