"""Boxes whose pairs all stand at one centre distance: the search that they share."""

from dataclasses import replace

from mild_badger.core.architectures.slotted import places_for
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion, cost_of
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.shafts import Direct, ShaftKind, match_shared_centre
from mild_badger.core.vehicle.boxes import Box, EitherSideBox, LayshaftBox, TwoShaftBox

__all__ = ["search_shared_centre"]


def search_shared_centre(
    asked: BoxQuestion, kind: str, shafts: ShaftKind, *, direct: Direct, slide: bool = False
) -> BoxMatch | Impossible:
    """Find the best set between an input pair's shafts, or between input and output."""
    own_box = EitherSideBox.of(asked.vehicle.box)
    if own_box is not None:
        engaged = own_box.model_copy(update={"engagement": "slide" if slide else "dog"})
        asked = replace(asked, vehicle=asked.vehicle.model_copy(update={"box": engaged}))
    sleeves_on = own_box.sleeves_on if own_box is not None else "driven"
    low, high = asked.bounds
    matched = match_shared_centre(
        shafts,
        asked.standings(),
        asked.goals,
        low=low,
        high=high,
        tolerance=asked.tolerance,
        tooth_sum=asked.tooth_sum,
        direct=direct,
        have=asked.have(any_bore=asked.any_coupled),
        watch=asked.watch,
    )
    if isinstance(matched, Impossible):
        return matched
    own = {gear.goal.gear: gear.train[-1:] if gear.train else () for gear in matched.found.gears}
    slots = places_for(asked, own, slide=slide, apart=sleeves_on == "driving")
    box: Box
    if shafts == "two-shaft":
        box = TwoShaftBox(slots=slots, sleeves_on=sleeves_on)
    else:
        box = LayshaftBox(
            input_pair=(matched.input_pair,) if matched.input_pair else (),
            slots=slots,
            engagement="slide" if slide else "dog",
            sleeves_on=sleeves_on,
        )
    whole = matched.found
    if matched.input_pair is not None:
        whole = replace(whole, cost=cost_of([*own.values(), (matched.input_pair,)]))
    return BoxMatch(kind, whole, box, matched)
