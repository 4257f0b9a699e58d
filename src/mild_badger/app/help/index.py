"""What the search finds: gears, pages, commands, fields, terms and sections of the handbook."""

from collections.abc import Callable, Iterable, Iterator
from functools import partial

from PyQt6.QtGui import QAction

from mild_badger.core.message import say
from mild_badger.core.publish.glossary import glossary
from mild_badger.core.vehicle.field_texts import field_texts, told_field
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import capitalized
from mild_badger.text.handbook import chapter_title, sections
from mild_badger.text.pages import PAGES, TABS
from mild_badger.text.search import Entry

__all__ = ["FIELD_PAGES", "Go", "entries_of"]

Go = Callable[[], object]
FIELD_PAGES: dict[str, tuple[str, str]] = {
    "RealVehicle": ("Vehicle", ""),
    "GearTarget": ("Vehicle", ""),
    "Scale": ("Vehicle", ""),
    "Wheels": ("Vehicle", ""),
    "Axle": ("Vehicle", ""),
    "FinalDrive": ("Vehicle", ""),
    "Motor": ("Road", "motors"),
    "SearchSettings": ("Ratios", "gear"),
    "Lever": ("Shift", "actuator"),
    "Catch": ("Shift", "actuator"),
    "Drum": ("Shift", "actuator"),
    "FunctionBox": ("Shift", "functions"),
    "FunctionOutput": ("Shift", "functions"),
    "PlacementSettings": ("Layout", "whole"),
    "Frame": ("Layout", "stack"),
    "DrivenAxle": ("Axle", "drive"),
    "Differential": ("Axle", "drive"),
    "Steering": ("Axle", "steering"),
    "AxleShape": ("Axle", "room"),
    "Chassis": ("Axle", "room"),
    "Suspension": ("Axle", "room"),
    "ShaftLine": ("Axle", "line"),
    "Ground": ("Road", "pull"),
    "Losses": ("Road", "losses"),
    "Segment": ("Road", "drive"),
    "Trial": ("Trial", "tacho"),
    "Reading": ("Trial", "list"),
    "LogEntry": ("Trial", "log"),
    "WearItem": ("Trial", "log"),
    "FabricationSettings": ("Workshop", "templates"),
    "OwnGear": ("Workshop", "templates"),
    "DisplayEngine": ("Machine", "engine"),
    "LeverDrive": ("Machine", "lever"),
    "Clutch": ("Machine", "clutch"),
    "LiquidLine": ("Machine", "liquid"),
    "Cables": ("Machine", "cables"),
    "CableRun": ("Machine", "cables"),
    "HoledLever": ("Machine", "cables"),
    "CraneOutput": ("Machine", "crane"),
    "Ring": ("Machine", "crane"),
    "Screw": ("Machine", "crane"),
    "Spool": ("Machine", "crane"),
    "Rack": ("Machine", "crane"),
    "Worm": ("Machine", "crane"),
    "Carried": ("Machine", "crane"),
    "Plain": ("Machine", "crane"),
    "Balance": ("Machine", "balance"),
    "Mass": ("Machine", "balance"),
}
"""Where the fields of a model are typed, by tab and page."""


def entries_of(
    vehicle: Vehicle,
    actions: Iterable[QAction],
    *,
    engage: Callable[[str], object],
    show: Callable[[str, str], object],
    read: Callable[[str, str], object],
) -> Iterator[Entry[Go]]:
    """List everything that can be found, each with what goes there or does it."""
    for gear in vehicle.real.gears:
        what = say("help.engage-reverse") if gear.reverse else "engage"
        yield Entry("gear", say("help.gear", name=gear.name), what, partial(engage, gear.id))
    for tab, pages in PAGES.items():
        for page, title in pages.items():
            name = f"{TABS[tab]}: {title}" if title else TABS[tab]
            yield Entry("page", name, say("help.tab-page"), partial(show, tab, page))
    for action in actions:
        name = action.text().replace("&", "").removesuffix(" …")
        if name and action.isEnabled() and not action.isSeparator() and action.menu() is None:
            yield Entry("command", name, action.shortcut().toString(), action.trigger)
    for key in field_texts():
        model, field = key.split(".")
        at, text = FIELD_PAGES.get(model), told_field(key)
        if at is not None and text is not None and field != "id":
            yield Entry(
                "field",
                capitalized(text.title),
                f"{text.description}\n{' '.join(at)}",
                partial(show, *at),
            )
    for term, meaning in glossary().items():
        yield Entry("term", term, meaning, partial(read, "glossary", term))
    for section in sections():
        title = chapter_title(section.chapter)
        name = f"{title}: {section.heading}" if section.heading else title
        yield Entry(
            "section",
            name,
            section.text,
            partial(read, section.chapter, section.heading),
        )
