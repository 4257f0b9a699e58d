"""How the gears are selected: the lever, the catch or the drum, as the document holds them.

Lengths mm, angles degrees, speeds rpm, times s.
"""

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from mild_badger.core.message import say
from mild_badger.core.vehicle.base import DocumentNode, Length, RefersTo, Rpm, ShortName

__all__ = ["Actuation", "Catch", "Drum", "Lever", "Shifting", "Side"]

Actuation = Literal["gate", "catch", "drum"]
Side = Literal["left", "right"]
Seconds = Annotated[float, Field(gt=0, le=60)]


class Lever(DocumentNode):
    """A gate lever on its pivot, and the detents of its rails.

    Arms and travels in mm: ``fork_travel_mm`` from neutral into a gear, ``rail_pitch_mm`` from rail
    to rail. ``first_rail`` is the side on which the first sleeve's rail lies, seen by the driver.
    ``pivot`` "below": the finger is between pivot and knob and goes with the knob; "between": the
    pivot is between them and the finger goes against the knob; both arms count from the pivot.
    ``plungers`` tells whether interlock plungers hold every rail but one in neutral. A detent's
    flank rises at an angle from the rail's axis; the spring presses in N; ``friction`` is the
    coefficient in the notch. ``step_s`` is how long one move of the lever takes.
    """

    arm_above_mm: Length = 60.0
    arm_below_mm: Length = 20.0
    fork_travel_mm: Length = 8.0
    rail_pitch_mm: Length = 8.0
    first_rail: Side = "left"
    pivot: Literal["below", "between"] = "below"
    seen_from: Literal["seat", "left", "right"] = "seat"
    reverse_guard: Literal["none", "lift", "side spring"] = "lift"
    plungers: bool = True
    detent_flank_deg: Annotated[float, Field(gt=0, lt=90)] = 45.0
    detent_depth_mm: Length = 1.5
    detent_spring_n: Annotated[float, Field(gt=0, le=1000)] = 2.0
    detent_friction: Annotated[float, Field(ge=0, lt=2)] = 0.2
    step_s: Seconds = 0.2


class Catch(DocumentNode):
    """A catch that slides along a rail to a column and tilts there, front or back.

    ``order`` lists the columns along the rail, those it leaves out behind them as they stand;
    ``past_neutral`` says that its shape lets it slide on only while it stands upright, so that the
    sleeve it leaves is in neutral.
    """

    order: Annotated[tuple[Annotated[int, Field(ge=1, le=24)], ...], Field(max_length=24)] = ()
    column_pitch_mm: Length = 24.0
    past_neutral: bool = True
    slide_s: Seconds = 0.3
    tilt_s: Seconds = 0.2

    @model_validator(mode="after")
    def _columns_once(self) -> Self:
        for column in self.order:
            if self.order.count(column) > 1:
                raise ValueError(
                    say("vehicle.column-stands-twice-along-the-catchs-rail", column=column)
                )
        return self


class Drum(DocumentNode):
    """A drum with a track for every fork, or two such drums that turn together.

    ``order`` lists the positions, null for neutral, empty for the usual one; ``angles_deg`` where
    each of them stands, empty for even spacing. The track dwells for ``dwell_deg`` about each
    position. ``dog_depth_mm`` is how deep the dogs are in at full travel; ``overlap_deg`` the turn
    during which two sleeves are in at once, negative for how long both are out. ``dogs`` that
    drive one way let a faster gear overrun a slower one.
    """

    drums: Literal["one", "odd and even"] = "one"
    order: Annotated[tuple[ShortName | None, ...], Field(max_length=50), RefersTo("gear")] = ()
    angles_deg: Annotated[
        tuple[Annotated[float, Field(ge=0, lt=360)], ...], Field(max_length=50)
    ] = ()
    diameter_mm: Length = 40.0
    track_pitch_mm: Length = 24.0
    follower_mm: Length = 4.0
    dwell_deg: Annotated[float, Field(ge=0, lt=360)] = 8.0
    dog_depth_mm: Length = 5.0
    overlap_deg: Annotated[float, Field(gt=-360, lt=360)] = -4.0
    dogs: Literal["plain", "one-way"] = "plain"
    steepest_deg: Annotated[float, Field(gt=0, lt=90)] = 50.0
    rpm: Rpm = 30.0

    @model_validator(mode="after")
    def _positions_in_order(self) -> Self:
        for gear in self.order:
            if gear is not None and self.order.count(gear) > 1:
                raise ValueError(say("vehicle.gear-stands-twice-on-the-drum", gear=gear))
        if any(late <= early for early, late in pairwise(self.angles_deg)):
            raise ValueError(say("vehicle.the-drums-angles-must-rise-from-position-to"))
        return self


class Shifting(DocumentNode):
    """What moves the sleeves, and which way the box stands in the vehicle.

    ``box_faces`` is the way from the box's input to its output: to the rear, as behind an engine
    in front, or to the front.
    """

    actuation: Actuation = "gate"
    box_faces: Literal["rear", "front"] = "rear"
    catch: Catch = Catch()
    drum: Drum = Drum()
