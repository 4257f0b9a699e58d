"""What components are called, by shaft letter where they have one."""

from typing import Any

from mild_badger.core.components.box import BoxComponents
from mild_badger.core.components.component import Component
from mild_badger.core.components.drive_line import FREE
from mild_badger.core.components.lever_parts import lever_plan
from mild_badger.core.driveline.assemble import axle_body
from mild_badger.core.figures import in_mm
from mild_badger.core.kit.part_sizes import bushes_for, is_washer
from mild_badger.core.message import say, say_count
from mild_badger.core.structure.names import describe_shaft, shaft_label, shaft_letter
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.vehicle.sleeves import describe_sleeve, rail_title
from mild_badger.core.words import word

__all__ = [
    "components_data",
    "describe_component",
    "describe_lever",
    "describe_part",
    "describe_spacer",
    "lever_data",
]


HEIGHTS = {"low": "lower", "high": "upper"}
FREE_AXLE = axle_body(FREE, "")


def describe_component(vehicle: Vehicle, part: Component) -> str:
    """Name a part so that it is found: what it is, on which shaft."""
    if part.name and part.kind != "bearing":
        if part.teeth and part.kind == "gear":
            return say("components.tooth-gear-of", teeth=part.teeth, name=part.name)
        return say("components.kind-of-mechanism", kind=word(part.kind), name=part.name)
    shaft = describe_shaft(vehicle, part.shaft)
    match part.kind:
        case "gear":
            return say("components.tooth-gear-on", teeth=part.teeth, shaft=shaft)
        case "shaft":
            return shaft
        case "sleeve":
            return describe_sleeve(part.member)
        case "follower":
            return say("components.follower-of", sleeve=describe_sleeve(part.member))
        case "tie beam":
            return _cornered(part)
        case "shift arm":
            return say("components.shift-arm-of", sleeve=describe_sleeve(part.member))
        case "gate lever" | "cradle" | "lever stand" | "catch" | "catch rail":
            return rail_title(part.lever, part.kind)
        case "fork":
            return say("components.fork-of", sleeve=describe_sleeve(part.member))
        case "rail":
            return say("components.rail-of", sleeve=describe_sleeve(part.member))
        case "spacer" | "post" | "hub" | "sensor disc":
            return say("components.on-shaft", kind=word(part.kind), shaft=shaft)
        case "bearing":
            return say("components.bearing-in", shaft=shaft, wall=vehicle.train_title(part.wall))
        case "ratchet wheel" | "pawl ring":
            return say("components.of-a-clutch-on", kind=word(part.kind), shaft=shaft)
        case "eccentric" | "rod" | "yoke" | "lever arm" | "pawl" | "pin":
            return say(
                "components.of-ratchet", kind=word(part.kind), number=part.id.rpartition(" ")[2]
            )
        case "wall":
            return vehicle.train_title(part.wall)
        case (
            "wheel"
            | "half shaft"
            | "joint yoke"
            | "joint cross"
            | "pinion"
            | "crown"
            | "differential"
        ) if not part.id.startswith("steering"):
            return _on_axle(vehicle, part)
        case "steering column":
            place = word(part.id.rpartition(" ")[2])
            return say("components.at-place", place=place, kind=word(part.kind))
        case "battery" | "switch" | "controller" | "other":
            names = {f"equipment {item.id}": item.name for item in vehicle.equipment}
            return names.get(part.id, word(part.kind))
        case _:
            return word(part.kind)


def _cornered(part: Component) -> str:
    """Name a beam along the box by its corner."""
    high, side = part.id.split()[-2:]
    return say(
        "components.at-corner", kind=word(part.kind), high=word(HEIGHTS[high]), side=word(side)
    )


def _on_axle(vehicle: Vehicle, part: Component) -> str:
    """Name a part of an axle by its side and by the axle, where there is more than one."""
    side = part.id.rpartition(" ")[2]
    kind = word(part.kind)
    if side in ("left", "right"):
        kind = say("components.on-side", side=word(side), kind=kind)
    named = {axle_body(axle.id, ""): axle.name for axle in vehicle.additional_axles}
    axle = next((name for key, name in named.items() if part.id.startswith(key)), None)
    if axle is not None:
        return say("components.of-axle", kind=kind, axle=axle)
    if part.id.startswith(FREE_AXLE):
        return say("components.of-the-free-axle", kind=kind)
    return say("components.of-the-first-axle", kind=kind) if named else kind


def describe_part(vehicle: Vehicle, part: Component) -> str:
    """Name a part for the workshop: a spacer with its length, a bearing by what it is bought as."""
    shaft = describe_shaft(vehicle, part.shaft)
    if part.kind == "spacer":
        return say("components.spacer-on", spacer=describe_spacer(vehicle, part), shaft=shaft)
    if part.kind == "bearing":
        wall = vehicle.train_title(part.wall)
        return say("components.bearing-called", name=part.name, shaft=shaft, wall=wall)
    words = describe_component(vehicle, part)
    return say("components.gear-that-runs-free", gear=words) if part.free else words


def describe_spacer(vehicle: Vehicle, part: Component) -> str:
    """Say what fills a gap on a shaft: bushes of a brick kit, else a tube or a washer."""
    if not vehicle.kit.any_seat:
        bushes = bushes_for(part.length_mm, vehicle.kit.grid_unit_mm)
        return " + ".join(
            say_count("count.bush", number) if size > 1 else say_count("count.half-bush", number)
            for size, number in bushes
        )
    length = in_mm(part.length_mm, significant=4)
    if is_washer(part.length_mm):
        return say("components.washer-of-length", length=length)
    return say("components.spacer-of-length", length=length)


def components_data(vehicle: Vehicle, box: BoxComponents | None) -> list[dict[str, Any]]:
    """Give every part of a placed box as plain data: id, kind, shaft letter, place in mm.

    ``along_mm`` and the ends are measured from the outer face of the front wall.
    """
    return [
        {
            "id": str(part.id),
            "kind": part.kind,
            "shaft": part.shaft,
            "letter": shaft_letter(vehicle, part.shaft),
            "bodies": list(part.bodies),
            "teeth": part.teeth,
            "member": part.member,
            "x_mm": round(part.x_mm, 4),
            "y_mm": round(part.y_mm, 4),
            "from_mm": round(part.along_mm + min(p.from_mm for p in part.solid), 4),
            "to_mm": round(part.along_mm + max(p.to_mm for p in part.solid), 4),
        }
        for part in (box.components if box is not None else ())
        if part.solid
    ]


def lever_data(vehicle: Vehicle) -> dict[str, Any]:
    """Give a lever drive in space as plain data: shafts by letter and their places, its length."""
    plan = lever_plan(vehicle)
    if plan is None:
        return {"architecture": vehicle.box.architecture, "shafts": []}
    shafts = [
        {
            "id": shaft,
            "letter": shaft_letter(vehicle, shaft),
            "x_mm": round(x, 4),
            "y_mm": round(y, 4),
            "from_mm": round(plan.spans[shaft][0], 4),
            "length_mm": round(plan.spans[shaft][1] - plan.spans[shaft][0], 4),
        }
        for shaft, (x, y) in plan.centres.items()
        if shaft in plan.spans
    ]
    return {
        "architecture": vehicle.box.architecture,
        "length_mm": round(plan.walls[-1][1], 4),
        "shafts": shafts,
    }


def describe_lever(vehicle: Vehicle) -> str:
    """Say where the shafts of a lever drive stand, from its levers' input pins."""
    data = lever_data(vehicle)
    shafts = "; ".join(
        say(
            "layout.at",
            shaft=shaft_label(vehicle, shaft["id"]),
            x=in_mm(shaft["x_mm"], 2),
            y=in_mm(shaft["y_mm"], 2),
        )
        for shaft in data["shafts"]
    )
    length = in_mm(data.get("length_mm", 0.0), 1)
    return say("layout.long-shafts", length=length, shafts=shafts)
