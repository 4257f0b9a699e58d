"""The drawings and solids of a vehicle by name, as the bytes of a file."""

from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.workshop.detent_strip import detent_strip, detent_strip_stl
from mild_badger.core.workshop.drawing import Drawing, to_dxf, to_svg
from mild_badger.core.workshop.wrapper import drum_count, drum_wrapper

__all__ = ["drawing_data", "drawing_files"]


def drawing_data(vehicle: Vehicle, name: str, form: str) -> bytes:
    """Write ``drum``, ``even drum`` or ``strip`` as svg, dxf or (the strip) stl; svg otherwise."""
    if name == "strip" and form == "stl":
        return detent_strip_stl(vehicle.lever)
    drawing: Drawing
    if name == "strip":
        drawing = detent_strip(vehicle.lever)
    else:
        drawing = drum_wrapper(vehicle, 1 if name == "even drum" else 0)
    return (to_dxf(drawing) if form == "dxf" else to_svg(drawing)).encode()


def drawing_files(vehicle: Vehicle) -> dict[str, bytes]:
    """Write all drawings that a vehicle's shifter takes: its drums, or its detents' test strip."""
    if vehicle.shifting.actuation != "drum":
        return {
            f"detent-strip.{form}": drawing_data(vehicle, "strip", form)
            for form in ("svg", "dxf", "stl")
        }
    names = ("drum", "even drum")[: drum_count(vehicle)]
    return {
        f"{name.replace(' ', '-')}.{form}": drawing_data(vehicle, name, form)
        for name in names
        for form in ("svg", "dxf")
    }
