"""Everything that leaves the program at once: tables, the sheet, drawings, templates, the book."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from mild_badger.core.components.model import ModelForm, box_model, vehicle_model
from mild_badger.core.errors import FileAccessError
from mild_badger.core.evaluate import evaluate
from mild_badger.core.message import say
from mild_badger.core.publish.book import plan_book
from mild_badger.core.publish.drawings import drawing_files, template_files
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.files.writer import write_file

__all__ = ["Exported", "export"]


@dataclass(frozen=True)
class Exported:
    """The files that were written, and a sentence for each drawing that cannot be made."""

    paths: tuple[Path, ...]
    refused: tuple[str, ...]


def export(
    vehicle: Vehicle,
    folder: str | Path,
    *,
    templates: bool = False,
    model: ModelForm | None = None,
    whole: ModelForm | None = None,
    position: str | None = None,
    apart: bool = False,
    book: bool = False,
    chapters: Sequence[str] = (),
    gear: str | None = None,
) -> Exported:
    """Write a vehicle's tables, sheet and shifter drawings into a folder, and what else is asked.

    Parameters
    ----------
    vehicle, folder
        What is written, and where; the folder is made if it is not there.
    templates
        Every template too, as svg, dxf, pdf and stl.
    model
        The placed box as one 3D file of this kind.
    whole
        The same of the whole vehicle: the way to the wheels, motors and other bodies too.
    position, apart
        Id of the gear that is in there, None for neutral; whether parts are drawn apart.
    book, chapters
        The plan book, or only these chapters of it.
    gear
        Id of the gear whose way the power takes on the book's cover.

    Raises
    ------
    FileAccessError
        Folder or file cannot be written.
    InputError
        There is no such chapter, or the box has no place in space to make a model of.
    """
    folder = Path(folder)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileAccessError(
            say("files.cannot-make-the-folder", folder=folder, strerror=error.strerror)
        ) from error
    evaluation = evaluate(vehicle)
    files = {
        "gears.csv": gears_csv(evaluation).encode(),
        "parts.csv": parts_csv(evaluation).encode(),
        "sheet.pdf": sheet_pdf(evaluation),
        **drawing_files(vehicle),
    }
    refused: tuple[str, ...] = ()
    if templates:
        drawn, refused = template_files(vehicle)
        files |= drawn
    if model is not None:
        files[f"box.{model}"] = box_model(vehicle, model, gear=position, apart=apart)
    if whole is not None:
        files[f"vehicle.{whole}"] = vehicle_model(vehicle, whole, position)
    if book or chapters:
        name = f"{'-'.join(chapters)}.pdf" if chapters else "plan-book.pdf"
        files[name] = plan_book(vehicle, gear=gear, chapters=tuple(chapters))
    for name, data in files.items():
        write_file(folder / name, data)
    return Exported(tuple(folder / name for name in files), refused)
