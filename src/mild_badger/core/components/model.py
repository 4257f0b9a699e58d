"""The box as a file for other programs: every part a named node, standing as a gear has it.

glTF as GLB is in metres, STL and 3MF are in millimetres; all are right-handed, with y upwards and
the input end towards +z (glTF 2.0 §3.4, 3MF Core Specification §3.3; STL has no unit of its own).
"""

from typing import TYPE_CHECKING, Any, Literal, get_args

import numpy as np

from mild_badger.core.components.chassis_parts import chassis_parts
from mild_badger.core.components.component import Component, Travel
from mild_badger.core.components.equipment import whole_vehicle
from mild_badger.core.components.proof import Step
from mild_badger.core.components.solids import solid_of
from mild_badger.core.components.vehicle_parts import vehicle_components
from mild_badger.core.driveline.assemble import shifter_state_for
from mild_badger.core.errors import InputError
from mild_badger.core.layout.reason import why_no_place
from mild_badger.core.message import say
from mild_badger.core.structure.names import shaft_letter
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch

if TYPE_CHECKING:
    import trimesh

__all__ = [
    "MODEL_FORMS",
    "ModelForm",
    "box_model",
    "component_data",
    "part_model",
    "travel_in",
    "vehicle_model",
]

ModelForm = Literal["glb", "stl", "3mf"]
MODEL_FORMS: tuple[ModelForm, ...] = get_args(ModelForm)
METRES = 0.001
APART = 1.5
"""How much farther along the box parts stand that are drawn apart, as a share of their place."""


def travel_in(vehicle: Vehicle, gear: str | None) -> dict[str, float]:
    """How far each sleeve stands from neutral, in mm, with a gear in; none in neutral."""
    if gear is None:
        return {}
    if vehicle.box.lever is not None:
        return {}  # its fulcrum stands elsewhere, nothing slides along the box
    state = shifter_state_for(vehicle, gear)
    return Step(tuple(state.items()), 1.0).travel(vehicle.lever.fork_travel_mm)


def component_data(vehicle: Vehicle, part: Component) -> dict[str, Any]:
    """Tell what a part is: id, kind, teeth, shaft and its letter, bodies, what it slides with."""
    known: dict[str, Any] = {
        "id": part.key,
        "kind": part.kind,
        "teeth": part.teeth or None,
        "shaft": part.shaft or None,
        "letter": shaft_letter(vehicle, part.shaft) or None,
        "bodies": list(part.bodies) or None,
        "member": part.member or None,
        "free": True if part.free else None,
    }
    return {name: value for name, value in known.items() if value is not None}


def vehicle_model(
    vehicle: Vehicle, form: str, gear: str | None = None, *, watch: Watch = UNWATCHED
) -> bytes:
    """Write the whole vehicle as :func:`box_model` writes its box: the way to the wheels too.

    Motors and other bodies of a given size are in it where they stand, frame and steering too.

    Raises
    ------
    InputError
        A gear cannot be made, or the form is another.
    SearchStopped
        It was stopped.
    """
    whole = whole_vehicle(vehicle, gear).components
    wheels = [part for part in whole if part.kind == "wheel"]
    parts = (*whole, *chassis_parts(vehicle, wheels))
    return _written(vehicle, parts, form, gear, apart=False, watch=watch)


def box_model(
    vehicle: Vehicle,
    form: str,
    *,
    gear: str | None = None,
    apart: bool = False,
    watch: Watch = UNWATCHED,
) -> bytes:
    """Write the placed box as ``glb``, ``stl`` or ``3mf``.

    Parameters
    ----------
    vehicle
        Whose box it is.
    form
        How it is written.
    gear
        The gear that is in, by its id; None for neutral.
    apart
        Whether parts are drawn apart along the box.
    watch
        What may stop it.

    Raises
    ------
    InputError
        The box has no place in space yet, or the form is another.
    SearchStopped
        It was stopped.
    """
    parts = vehicle_components(vehicle, gear)
    if not parts:
        raise InputError(why_no_place(vehicle))
    return _written(vehicle, parts, form, gear, apart=apart, watch=watch)


def part_model(part: Component, form: ModelForm) -> bytes:
    """Write one part by itself as it is to be printed: about its own place, its length upwards.

    All of its solid is in it: dogs, recesses and grooves too. Millimetres, but for ``glb``.
    """
    own = Component(part.id, part.kind, part.solid, 0.0, 0.0, 0.0, cuts=part.cuts)
    size = METRES if form == "glb" else 1.0
    scene = _scene((own,), {}, size, apart=False, watch=UNWATCHED)
    if form == "stl":
        return bytes(scene.to_geometry().export(file_type="stl"))
    return bytes(scene.export(file_type=form))


def _written(
    vehicle: Vehicle,
    parts: tuple[Component, ...],
    form: str,
    gear: str | None,
    *,
    apart: bool,
    watch: Watch,
) -> bytes:
    if form not in MODEL_FORMS:
        raise InputError(say("components.a-model-is-written-as-glb-stl-or-3mf-not-as", form=form))
    size = METRES if form == "glb" else 1.0
    scene = _scene(parts, travel_in(vehicle, gear), size, apart=apart, watch=watch)
    if form == "stl":
        data = scene.to_geometry().export(file_type="stl")
    elif form == "3mf":
        data = scene.export(file_type="3mf")
    else:
        told = {part.key: component_data(vehicle, part) for part in parts}

        def add_extras(tree: dict[str, Any]) -> None:
            for node in tree["nodes"]:
                if node.get("name") in told:
                    node["extras"] = told[node["name"]]

        data = scene.export(file_type="glb", tree_postprocessor=add_extras)
    return data if isinstance(data, bytes) else bytes(data, "utf-8")


def _scene(
    parts: tuple[Component, ...], travel: Travel, size: float, *, apart: bool, watch: Watch
) -> "trimesh.Scene":
    import trimesh  # noqa: PLC0415 - loaded when the first model is written

    scene = trimesh.Scene()
    for done, part in enumerate(parts):
        watch.tick(done / len(parts))
        raw = solid_of(part, travel).to_mesh()
        corners = np.asarray(raw.vert_properties)[:, :3].astype(float)
        if apart:
            corners[:, 2] -= APART * (part.from_mm + part.to_mm) / 2
        faces = np.asarray(raw.tri_verts)
        mesh = trimesh.Trimesh(vertices=corners * size, faces=faces, process=False)
        scene.add_geometry(mesh, node_name=part.key, geom_name=part.key)
    return scene
