"""A drum proven by solids: turned through its positions, followers where their tracks are."""

from math import degrees

from mild_badger.core.components.component import Component
from mild_badger.core.components.proof import TOUCH_MM, Overlap, SolidProof, Turn, overlap_of
from mild_badger.core.components.solids import solid_of
from mild_badger.core.shift.drum import DrumLayout
from mild_badger.core.watch import UNWATCHED, Watch

__all__ = ["prove_drums"]

STEP_DEG = 3.0


def prove_drums(
    components: tuple[Component, ...], layout: DrumLayout, *, watch: Watch = UNWATCHED
) -> SolidProof:
    """Turn the drums from their first position to the last, and look at every follower.

    Parameters
    ----------
    components
        The box's parts, in neutral.
    layout
        What the tracks were cut by: how far each sleeve has gone at an angle.

    Raises
    ------
    SearchStopped
        It was stopped.
    """
    drums = [part for part in components if part.kind == "drum"]
    followers = [part for part in components if part.kind == "follower"]
    if not drums or not layout.positions:
        return SolidProof((), 0, 0, 0)
    tracks = {track.sleeve: track for track in layout.tracks}
    start, end = layout.positions[0].angle_deg, layout.positions[-1].angle_deg
    count = max(int((end - start) / STEP_DEG), 1)
    worst: dict[tuple[str, str], Overlap] = {}
    pairs = 0
    for number in range(count + 1):
        watch.tick(number / (count + 1))
        angle = start + (end - start) * number / count
        for drum in drums:
            solid = solid_of(drum).translate((-drum.x_mm, -drum.y_mm, 0.0))
            turned = solid.rotate((0.0, 0.0, angle - degrees(drum.turn_rad))).translate(
                (drum.x_mm, drum.y_mm, 0.0)
            )
            for follower in followers:
                track = tracks.get(follower.member)
                if track is None:
                    continue
                pairs += 1
                moved = solid_of(follower, {follower.member: track.travel_at(angle)})
                found = overlap_of(turned, moved)
                if found is None or found[1] <= TOUCH_MM:
                    continue
                known = worst.get((drum.id, follower.id))
                if known is None or found[0] > known.volume_mm3 + 1e-9:
                    worst[drum.id, follower.id] = Overlap(drum.id, follower.id, *found, Turn(angle))
    ordered = sorted(worst.values(), key=lambda o: (-o.volume_mm3, o.one, o.other))
    return SolidProof(tuple(ordered), len(layout.positions), count + 1, pairs)
