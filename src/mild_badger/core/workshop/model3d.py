"""The whole box as one solid model: every part in its place, gears with their true teeth.

Written by trimesh as glTF (GLB, each part a named node) or STL (all in one); lengths mm.
"""

from math import atan2, cos, pi, sin

import numpy as np

from mild_badger.core.errors import InputError
from mild_badger.core.message import say
from mild_badger.core.templates.gear_shape import GearForm, gear_shape
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.watch import UNWATCHED, Watch
from mild_badger.core.workshop.pieces import Piece, circle_points, pieces_of
from mild_badger.core.workshop.solid import extruded

__all__ = ["box_model", "gear_turns"]

Point = tuple[float, float]


def gear_turns(vehicle: Vehicle, pieces: tuple[Piece, ...]) -> dict[str, float]:
    """Give each gear the angle in rad at which a tooth of it stands, so that meshes interlock.

    A gear turns so that a gap of it faces a tooth of the one it meshes with. Where gears mesh in a
    loop the last of them keeps to one of its two neighbours.
    """
    module = vehicle.kit.module_mm
    gears = [piece for piece in pieces if piece.teeth]
    near: dict[str, list[Piece]] = {gear.key: [] for gear in gears}
    for number, one in enumerate(gears):
        for other in gears[number + 1 :]:
            beside = min(one.to_mm, other.to_mm) - max(one.from_mm, other.from_mm) > 0.1
            apart = float(np.hypot(one.at[0] - other.at[0], one.at[1] - other.at[1]))
            if beside and abs(apart - (one.teeth + other.teeth) * module / 2) < module * 0.8:
                near[one.key].append(other)
                near[other.key].append(one)
    turns: dict[str, float] = {}
    for gear in gears:
        if gear.key in turns:
            continue
        turns[gear.key] = 0.0
        queue = [gear]
        for here in queue:
            for there in near[here.key]:
                if there.key not in turns:
                    turns[there.key] = _into(here, turns[here.key], there)
                    queue.append(there)
    return turns


def _into(here: Piece, turn: float, there: Piece) -> float:
    """Turn a gear so that its gap takes the tooth that the other holds out to it."""
    towards = atan2(there.at[1] - here.at[1], there.at[0] - here.at[0])
    pitch = 2 * pi / here.teeth
    # how far the nearest tooth of the one here is past the line of centres, as a share of a pitch
    past = ((turn - towards) / pitch) % 1.0
    own = 2 * pi / there.teeth
    # meshing gears turn against one another: the other's gap lags by the same share
    return towards + pi + own / 2 - past * own


def _shape(vehicle: Vehicle, piece: Piece, turn: float) -> tuple[tuple[Point, ...], ...]:
    """Give a part's outline and its holes."""
    holes = tuple(circle_points(at, radius) for at, radius in piece.holes)
    if not piece.teeth:
        return (circle_points(piece.at, piece.radius_mm), *holes)
    size = vehicle.kit.size(piece.teeth)
    thinning = size.tooth_thinning_mm if size is not None else 0.0
    form = GearForm(
        piece.teeth, vehicle.kit.module_mm, vehicle.kit.pressure_angle_deg, thinning_mm=thinning
    )
    c, s = cos(turn), sin(turn)
    outline = tuple(
        (x * c - y * s + piece.at[0], x * s + y * c + piece.at[1]) for x, y in gear_shape(form)
    )
    return (outline, *holes)


def box_model(vehicle: Vehicle, form: str, *, watch: Watch = UNWATCHED) -> bytes:
    """Write the placed box as ``glb`` or ``stl``.

    Raises
    ------
    InputError
        The box has no place in space yet, or the form is another.
    SearchStopped
        It was stopped.
    """
    import trimesh  # noqa: PLC0415 - loaded when the first model is written
    from shapely.geometry import Polygon  # noqa: PLC0415
    from shapely.ops import unary_union  # noqa: PLC0415

    pieces = pieces_of(vehicle)
    if not pieces:
        raise InputError(say("workshop.the-box-has-no-place-in-space-yet-place-it"))
    if form not in ("glb", "stl"):
        raise InputError(say("workshop.a-model-is-written-as-glb-or-stl-not-as", form=form))
    turns = gear_turns(vehicle, pieces)
    scene = trimesh.Scene()
    for done, piece in enumerate(pieces):
        watch.tick(done / len(pieces))
        if piece.outlines:
            whole = unary_union([Polygon(outline).buffer(0) for outline in piece.outlines])
            for at, radius in piece.holes:
                whole = whole.difference(Polygon(circle_points(at, radius)))
            polygons = list(getattr(whole, "geoms", [whole]))
            shapes = [
                (tuple(p.exterior.coords)[:-1], tuple(tuple(i.coords)[:-1] for i in p.interiors))
                for p in polygons
            ]
        else:
            outline, *holes = _shape(vehicle, piece, turns.get(piece.key, 0.0))
            shapes = [(outline, tuple(holes))]
        for number, (outline, inside) in enumerate(shapes):
            triangles = np.array(extruded(outline, piece.length_mm, inside), dtype=float)
            triangles[:, :, 2] += piece.from_mm
            mesh = trimesh.Trimesh(
                vertices=triangles.reshape(-1, 3),
                faces=np.arange(len(triangles) * 3).reshape(-1, 3),
            )
            mesh.merge_vertices()
            name = piece.key if not number else f"{piece.key} {number + 1}"
            scene.add_geometry(mesh, node_name=name, geom_name=name)
    if form == "stl":
        data = scene.to_geometry().export(file_type="stl")
    else:
        data = scene.export(file_type="glb")
    return data if isinstance(data, bytes) else bytes(data, "utf-8")
