"""Boxes whose pairs all stand at one centre distance: the search that they share."""

from dataclasses import replace

from mild_badger.core.architectures.slotted import places_for
from mild_badger.core.ratios.box_question import BoxMatch, BoxQuestion, cost_of
from mild_badger.core.ratios.lanes import Impossible
from mild_badger.core.ratios.pool import ODD
from mild_badger.core.ratios.shafts import Direct, ShaftKind, match_shared_centre
from mild_badger.core.vehicle.box import Engagement, Slot
from mild_badger.core.vehicle.boxes import Box, EitherSideBox, LayshaftBox, TwoShaftBox

__all__ = ["search_shared_centre"]


def search_shared_centre(
    asked: BoxQuestion, kind: str, shafts: ShaftKind, *, direct: Direct, slide: bool = False
) -> BoxMatch | Impossible:
    """Find the best set between an input pair's shafts, or between input and output."""
    own_box = EitherSideBox.of(asked.vehicle.box)
    engagement: Engagement = "slide" if slide else "dog"
    if own_box is not None:
        if shafts == "two-shaft":  # one search for both: the box keeps what it has
            engagement = own_box.engagement
            slide = own_box.slides
        engaged = own_box.model_copy(update={"engagement": engagement})
        asked = replace(asked, vehicle=asked.vehicle.model_copy(update={"box": engaged}))
    sleeves_on = own_box.sleeves_on if own_box is not None else "driven"
    shared_slider = own_box is not None and own_box.shared_slider
    together = _together(asked) if slide and shared_slider else None
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
        together=together,
        watch=asked.watch,
    )
    if isinstance(matched, Impossible):
        return matched
    own = {gear.goal.gear: gear.train[-1:] if gear.train else () for gear in matched.found.gears}
    slots = places_for(
        asked,
        own,
        slide=slide,
        apart=sleeves_on == "driving" and not slide,
        together=[asked.goals[n].gear for n in together or ()],
    )
    box: Box
    if shafts == "two-shaft":
        box = TwoShaftBox(
            slots=slots,
            engagement=engagement,
            sleeves_on=sleeves_on,
            shared_slider=shared_slider,
        )
    else:
        box = LayshaftBox(
            input_pair=(matched.input_pair,) if matched.input_pair else (),
            slots=slots,
            engagement=engagement,
            sleeves_on=sleeves_on,
            shared_slider=shared_slider,
            direct_by=own_box.direct_by if isinstance(own_box, LayshaftBox) else "dogs",
        )
    whole = matched.found
    if matched.input_pair is not None:
        whole = replace(whole, cost=cost_of([*own.values(), (matched.input_pair,)]))
    if together is not None:
        spare = own[asked.goals[together[0]].gear][-1].driven
        cost = whole.cost
        cost = replace(cost, gears=cost.gears - 1, teeth=cost.teeth - spare)
        whole = replace(whole, cost=cost)
    return BoxMatch(kind, whole, box, matched)


def _together(asked: BoxQuestion) -> tuple[int, int] | None:
    """Say which gears have one slider gear: those in one column, else first and reverse."""
    goals = asked.goals
    column = {s.gear: s.column for s in asked.vehicle.box.slots if isinstance(s, Slot)}
    ahead = [n for n, goal in enumerate(goals) if goal.parity != ODD]
    back = [n for n, goal in enumerate(goals) if goal.parity == ODD]
    if not ahead or not back:
        return None
    for one in ahead:
        for other in back:
            places = [column.get(goals[n].gear) for n in (one, other)]
            if places[0] == places[1] is not None:
                return one, other
    return max(ahead, key=lambda n: goals[n].target), back[0]
