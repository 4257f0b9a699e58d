"""Moving shafts and gears of a layout by hand, and what a move does to its meshes."""

from dataclasses import dataclass
from math import hypot

from mild_badger.core.driveline.assemble import assemble
from mild_badger.core.drivetrain.graph import Coupling
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm
from mild_badger.core.mesh.seats import Seat, seat_at
from mild_badger.core.message import say
from mild_badger.core.vehicle.bodies import pair_of
from mild_badger.core.vehicle.edit.change import Edit
from mild_badger.core.vehicle.layout import BoxLayout, LayoutGear
from mild_badger.core.vehicle.model import Vehicle

__all__ = ["MeshAt", "meshes_of_shaft", "move_layer", "move_shaft"]


@dataclass(frozen=True)
class MeshAt:
    """A mesh of a shaft's gear, with the seat it would have; None where a size is not the kit's."""

    gear: str
    other: str
    teeth: tuple[int, int]
    seat: Seat | None

    @property
    def summary(self) -> str:
        """Say how it sits."""
        pair = say("layout.with", teeth=self.teeth[0], teeth_2=self.teeth[1])
        if self.seat is None:
            return say("layout.not-in-the-kit", pair=pair)
        error = self.seat.engagement.seat_error_mm
        return f"{pair}: {self.seat.verdict.value}, e {in_mm(error, 2, sign=True)}".replace(
            "-", "−"
        )


def meshes_of_shaft(vehicle: Vehicle, name: str, x_mm: float, y_mm: float) -> tuple[MeshAt, ...]:
    """Judge the meshes of a shaft's gears with the shaft at a place."""
    layout = vehicle.layout
    if layout is None:
        return ()
    gears = {gear.body: gear for gear in layout.gears}
    meshes = []
    for equation in assemble(vehicle).equations:
        if equation.kind is not Coupling.MESH:
            continue
        one, other = (gears.get(body) for body in equation.bodies)
        if one is None or other is None or name not in (one.shaft, other.shaft):
            continue
        mine, its = (one, other) if one.shaft == name else (other, one)
        partner = layout.shaft(its.shaft)
        sizes = vehicle.kit.size(mine.teeth), vehicle.kit.size(its.teeth)
        seat = None
        if partner is not None and sizes[0] is not None and sizes[1] is not None:
            unit = vehicle.kit.grid_unit_mm
            offset = (abs(partner.x_mm - x_mm) / unit, abs(partner.y_mm - y_mm) / unit)
            if hypot(*offset) > 0:
                seat = seat_at(vehicle.kit, sizes[0], sizes[1], offset)
        meshes.append(MeshAt(mine.body, its.body, (mine.teeth, its.teeth), seat))
    return tuple(meshes)


def move_shaft(vehicle: Vehicle, name: str, x_mm: float, y_mm: float) -> Edit:
    """Move a shaft to the nearest place of the grid, half units where they are allowed.

    Raises
    ------
    InputError
        There is no such shaft in the layout, or its place follows from its gears' distances.
    """
    layout = _layout(vehicle)
    if vehicle.kit.any_seat:
        raise InputError(say("layout.in-wood-and-print-a-shaft-stands-where-its"))
    if layout.shaft(name) is None:
        raise InputError(say("layout.the-layout-has-no-shaft", name=name))
    step = vehicle.kit.grid_unit_mm / (2 if vehicle.placing.half_units else 1)
    x, y = round(x_mm / step) * step, round(y_mm / step) * step
    shafts = [
        s.model_copy(update={"x_mm": x, "y_mm": y}) if s.name == name else s for s in layout.shafts
    ]
    return Edit.one(say("layout.move", name=name), ("layout", "shafts"), shafts)


def move_layer(vehicle: Vehicle, body: str, layer: int) -> Edit:
    """Slide a pair, idlers and all, to another layer of its side.

    Raises
    ------
    InputError
        There is no such gear, or no such layer.
    """
    layout = _layout(vehicle)
    if not 1 <= layer <= layout.layers:
        raise InputError(
            say("layout.layer-the-layout-has-layers-1-to", layer=layer, layers=layout.layers)
        )
    pair = pair_of(body)
    if not any(pair_of(gear.body) == pair for gear in layout.gears):
        raise InputError(say("layout.the-layout-has-no-gear", body=body))

    def moved(gear: LayoutGear) -> LayoutGear:
        mine = pair_of(gear.body) == pair
        return gear.model_copy(update={"layer": layer}) if mine else gear

    gears = [moved(gear) for gear in layout.gears]
    return Edit.one(
        say("layout.slide-to-layer", pair=pair, layer=layer), ("layout", "gears"), gears
    )


def _layout(vehicle: Vehicle) -> BoxLayout:
    if vehicle.layout is None:
        raise InputError(say("layout.the-box-has-no-layout-yet-place-it-first"))
    return vehicle.layout
