"""What a step of the assembly is called, what it says of its parts, and how those are counted."""

from collections.abc import Sequence

from mild_badger.core.components.component import Component
from mild_badger.core.components.describe import describe_part, describe_spacer
from mild_badger.core.components.drive_line import LINE
from mild_badger.core.components.mechanism_parts import STUB as STUB_NAME
from mild_badger.core.driveline.assemble import box_output
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import bushes_for
from mild_badger.core.message import say
from mild_badger.core.structure.names import describe_shaft, shaft_letter
from mild_badger.core.vehicle.bodies import MOTOR
from mild_badger.core.vehicle.boxes import SlottedBox
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized, listed, word
from mild_badger.core.workshop.cutlist import taken_mm
from mild_badger.core.workshop.joints import joint_of

__all__ = ["counted", "part_kind", "part_name", "part_tag", "step_sentences", "step_title"]


def part_kind(part: Component) -> str:
    """Give a part's kind, gears that run free apart from those that are fixed."""
    return "free gear" if part.free else part.kind


def part_tag(vehicle: Vehicle, part: Component) -> str:
    """Give the short name that a part bears in a picture: its letter, and its teeth."""
    match part.kind:
        case "gear":
            return f"{shaft_letter(vehicle, part.shaft)} · {part.teeth}"
        case "shaft" | "sleeve" | "spacer" | "hub" | "post" | "sensor disc":
            return shaft_letter(vehicle, part.shaft)
        case "rail":
            return describe_shaft(vehicle, part.shaft)
        case "fork" | "bearing":
            return ""  # their sleeve and their wall are named
        case _:
            return describe_part(vehicle, part)


def counted(vehicle: Vehicle, parts: Sequence[Component]) -> dict[str, int]:
    """Count parts by what they are called."""
    counts: dict[str, int] = {}
    for part in parts:
        if part.kind == "spacer" and not vehicle.kit.any_seat:
            for size, number in bushes_for(part.length_mm, vehicle.kit.grid_unit_mm):
                counts[BUSHES[size]] = counts.get(BUSHES[size], 0) + number
            continue
        name = part_name(vehicle, part)
        counts[name] = counts.get(name, 0) + 1
    return counts


def part_name(vehicle: Vehicle, part: Component) -> str:
    """Name a part as one of its like."""
    match part.kind:
        case "gear":
            if not part.free:
                return say("workshop.tooth-gear", teeth=part.teeth)
            return say("workshop.free-tooth-gear", teeth=part.teeth)
        case "shaft" | "rail" | "half shaft":
            return say(
                "workshop.of",
                kind=word(part.kind),
                length_mm=in_mm(taken_mm(vehicle.kit, part), significant=4),
            )
        case "spacer":
            return describe_spacer(vehicle, part)
        case "tie rod":
            return say("workshop.tie-rod-of", length_mm=in_mm(part.length_mm, significant=4))
        case "bearing":
            return say("workshop.bearing", name=part.name)
        case _:
            return word(part.kind)


BUSHES = {1: say("workshop.bush-of-half-a-unit"), 2: say("workshop.bush-of-a-unit")}
STUB = f"/{STUB_NAME} of "
"""In the ids of ends of shafts that drive a mechanism."""
MANY = {
    "shaft": say("workshop.shafts"),
    "rail": say("workshop.fork-rails"),
    "gear": say("workshop.fixed-gears"),
    "free gear": say("workshop.free-gears"),
    "spacer": say("workshop.spacers"),
    "tie rod": say("workshop.tie-rods"),
    "post": say("workshop.posts"),
}


def step_title(vehicle: Vehicle, parts: Sequence[Component]) -> str:
    """Give a step's title: what comes, on which shafts."""
    first = parts[0]
    if first.kind == "wall":
        return capitalized(describe_part(vehicle, first))
    if first.kind == "sleeve":
        return (
            say("workshop.sleeves-with-their-forks")
            if sum(part.kind == "sleeve" for part in parts) > 1
            else say("workshop.sleeve-with-its-fork")
        )
    kinds: dict[str, list[Component]] = {}
    for part in parts:
        kinds.setdefault(part_kind(part), []).append(part)
    sentences = []
    for kind, own in kinds.items():
        shafts = dict.fromkeys(part.shaft for part in own if part.shaft)
        where = list(dict.fromkeys(_carrier(vehicle, part) for part in own if part.shaft))
        if len(own) == 1 and where:
            sentences.append(
                say(
                    "workshop.on",
                    part_name=part_name(vehicle, own[0]) if own[0].teeth else word(kind),
                    where=where[0],
                )
                if kind not in ("shaft", "rail")
                else where[0]
            )
        elif len(own) == 1:
            sentences.append(word(kind))
        elif kind in MANY and kind in ("shaft", "rail"):
            sentences.append(listed(where))
        elif kind in MANY:
            found = {shaft_letter(vehicle, shaft) for shaft in shafts} - {""}
            letters = listed(sorted(found, key=lambda letter: (len(letter), letter)))
            many = f"{len(own)} {MANY[kind]}"
            sentences.append(
                say("workshop.many-on-shafts", many=many, letters=letters) if letters else many
            )
        else:
            sentences.append(_times(own))
    words = ", ".join(sentences)
    return capitalized(words)


def _times(parts: list[Component]) -> str:
    return f"{len(parts)} × {word(parts[0].kind)}"


def _carrier(vehicle: Vehicle, part: Component) -> str:
    """Name the shaft that carries a part; of one without a letter what it belongs to."""
    if part.shaft == MOTOR:
        return say("workshop.the-motors-shaft")
    if part.kind == "shaft" and part.box == LINE and part.shaft == box_output(vehicle):
        # one letter, as both turn as one, and two rods
        return say("workshop.shaft-beyond-the-coupling", shaft=describe_shaft(vehicle, part.shaft))
    lettered = part.shaft and (shaft_letter(vehicle, part.shaft) or not part.name)
    return describe_shaft(vehicle, part.shaft) if lettered else part.name


def step_sentences(
    vehicle: Vehicle, parts: Sequence[Component], *, subassembly: bool = False
) -> str:
    """Say what to do with the parts of a step, like ones in one sentence.

    In a ``subassembly`` shafts lie as they are, and are not stood in.
    """
    text: dict[str, list[str]] = {}
    counted_each = set()
    for part in parts:
        sentence, where = _describe(vehicle, part)
        if subassembly and part.kind == "shaft":
            long = in_mm(taken_mm(vehicle.kit, part), significant=4)
            sentence = say("workshop.shaft-of-a-sub-assembly", length_mm=long)
        elif subassembly and part.kind in LOOSE:  # its rail is met when the shaft comes in
            sentence = LOOSE[part.kind]
        if part.kind in EACH:
            counted_each.add(sentence)
        text.setdefault(sentence, []).append(where)
    said = []
    for sentence, all_places in text.items():
        places = list(dict.fromkeys(filter(None, all_places)))
        on = ", ".join(places)
        if len(places) > 1 and sentence in counted_each:
            on = say("workshop.each-of", places=listed(places))
        said.append(capitalized(sentence.format(on)))
    return " ".join(said)


EACH = ("spacer", "gear")
"""Kinds of which so many go onto each of the shafts that a sentence names."""
LOOSE = {
    "fork": say("workshop.each-fork-into-its-sleeves-groove"),
    "shift arm": say("workshop.shift-arm-beside-its-fork"),
}
"""What to do in a sub-assembly with what holds to a rail later."""


PLAIN = {
    "post": say("workshop.post-for"),
    "drum": say("workshop.drum-on"),
    "star": say("workshop.star-on"),
    "ratchet wheel": say("workshop.ratchet-wheel-on"),
    "pawl ring": say("workshop.pawl-ring-on"),
    "eccentric": say("workshop.eccentric-on"),
    "rod": say("workshop.rod-over-its-eccentric"),
    "yoke": say("workshop.yoke-over-its-eccentric"),
    "lever arm": say("workshop.lever-arm-beside-it"),
    "pin": say("workshop.pin-through"),
    "pawl": say("workshop.pawl-on-its-pin"),
    "fulcrum": say("workshop.fulcrum-through-the-slots"),
    "guide": say("workshop.guide-between-the-walls"),
    "follower": say("workshop.follower-on-its-rail"),
    "detent arm": say("workshop.detent-arm-beside-the-star"),
    "tie beam": say("workshop.tie-beam-along-the-walls"),
    "sensor disc": say("workshop.sensor-disc-on"),
    "shift arm": say("workshop.shift-arm-on-its-rail"),
    "lever stand": say("workshop.lever-stand-on-the-wall"),
    "cradle": say("workshop.cradle-into-the-stand"),
    "gate lever": say("workshop.lever-into-its-cradle"),
    "catch rail": say("workshop.catch-rail-through-its-stands"),
    "catch": say("workshop.catch-on-its-rail"),
    "coupling": say("workshop.coupling-over-the-outputs-end"),
    "pinion": say("workshop.pinion-in-mesh-with-its-crown-wheel"),
    "crown": say("workshop.crown-wheel-on-its-side"),
    "differential": say("workshop.differential-between-the-half-shafts"),
    "half shaft": say("workshop.half-shaft-with-a-hair-of-end-play"),
    "joint yoke": say("workshop.forks-on-both-shafts"),
    "joint cross": say("workshop.cross-between-the-forks"),
    "wheel": say("workshop.wheel-on-its-shaft"),
    "motor": say("workshop.motor-in-line-with-the-input"),
    "clutch plate": say("workshop.plates-every-other-one-on-the-motor"),
    "lining": say("workshop.lining-between-two-plates"),
    "worm": say("workshop.worm-on-its-shaft"),
    "worm wheel": say("workshop.worm-wheel-under-its-worm"),
    "crank web": say("workshop.webs-at-the-angles-of-their-throws"),
    "piston": say("workshop.piston-on-its-rod"),
    "screw": say("workshop.screw-on-the-shafts-end"),
    "nut": say("workshop.nut-on-its-screw"),
    "spool": say("workshop.spool-on-its-shaft"),
    "frame rail": say("workshop.rails-of-the-frame-side-by-side"),
    "floor": say("workshop.floor-between-the-rails"),
    "kingpin": say("workshop.kingpins-upright"),
    "steering arm": say("workshop.arms-on-their-kingpins"),
    "steering rod": say("workshop.rods-between-rack-and-arms"),
    "steering pinion": say("workshop.pinion-in-the-middle-of-the-rack"),
    "rack": say("workshop.rack-in-its-guides"),
    "steering column": say("workshop.column-up-to-the-steering-wheel"),
    "steering wheel": say("workshop.steering-wheel-straight-ahead"),
    "battery": say("workshop.body-where-it-stands"),
    "switch": say("workshop.body-where-it-stands"),
    "controller": say("workshop.body-where-it-stands"),
    "other": say("workshop.body-where-it-stands"),
}
"""What to do with parts of a kind, with a gap for the shaft where one carries them."""


def _describe(vehicle: Vehicle, part: Component) -> tuple[str, str]:
    """Give a sentence with a gap for where, and what goes into the gap."""
    joint = joint_of(vehicle, part)
    on = _carrier(vehicle, part)
    match part_kind(part):
        case "rod" if part.name:  # of a display engine
            return say("workshop.rod-on-its-crank-pin"), on
        case "shaft" if STUB in part.id:
            return say("workshop.its-end-is-there-already"), on
        case "wall":
            over = (
                say("workshop.over-the-shafts")
                if part.from_mm > 0
                else say("workshop.its-input-side-down")
            )
            return say(
                "workshop.the",
                word=say("workshop.put") if part.from_mm > 0 else say("workshop.lay"),
                words=describe_part(vehicle, part),
                over=over,
            ), ""
        case "shaft":
            return say(
                "workshop.stand-in-long",
                length_mm=in_mm(taken_mm(vehicle.kit, part), significant=4),
            ), on
        case "rail":
            return say("workshop.stand-in-rails-must-slide-with-two-fingers"), on
        case "gear":
            how = {
                "glued": say("workshop.fix-with-glue"),
                "pressed": say("workshop.press-on"),
                "pinned": say("workshop.pin"),
                "keyed": say("workshop.turns-with-its-shaft"),
                "screwed": say("workshop.screw-fast"),
                "slides": say("workshop.slides-on-its-shaft-and-turns-with-it"),
            }[joint]
            return say("workshop.tooth-gear-on", teeth=part.teeth, how=how), on
        case "free gear":
            free = say("workshop.runs-free-no-glue-spin-it-with-a-finger")
            return say("workshop.tooth-gear-on-2", teeth=part.teeth, free=free), on
        case "hub":
            return say("workshop.hub-on-half-way", joint=word(joint)), on
        case "sleeve":
            return say("workshop.sleeve-on", on=on, faces=_faces(vehicle, part)), ""
        case "fork":
            return say("workshop.each-fork-into-its-sleeves-groove-and-on-its", joint=joint), ""
        case "bearing":
            return say("workshop.press-in-first", words=describe_part(vehicle, part)), ""
        case "tie rod":
            return say("workshop.through-all-walls-nuts-by-hand"), capitalized(word("tie rod"))
        case "spacer":
            return say("workshop.spacer-on", spacer=capitalized(describe_spacer(vehicle, part))), on
        case kind:
            return PLAIN.get(kind, say("workshop.in-its-place", part=word(kind))), on


def _faces(vehicle: Vehicle, part: Component) -> str:
    """Say which gear each face of a sleeve looks at."""
    box = SlottedBox.of(vehicle.box)
    if box is None or part.box:
        return say("workshop.both-faces-with-their-dogs-outwards")
    faces = {
        slot.face: slot.gear for slot in box.slots if box.sleeve_at(slot.column) == part.member
    }
    sentences = [
        say("workshop.its-face-towards-gear", face=face, gear_name=vehicle.gear_name(gear))
        for face, gear in sorted(faces.items(), reverse=True)
    ]
    return ", ".join(sentences) or say("workshop.both-faces-with-their-dogs-outwards")
