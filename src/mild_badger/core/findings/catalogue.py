"""Every kind of finding once: how bad it can be, the figure it carries, where it is seen to.

The place is a tab of the window and one of its pages, by their keys; the handbook's section on that
page explains it.
"""

from dataclasses import dataclass

from mild_badger.core.findings.finding import Severity

__all__ = ["CATALOGUE", "FindingKind", "kind_of"]

E, W, N = Severity.ERROR, Severity.WARNING, Severity.NOTE


@dataclass(frozen=True)
class FindingKind:
    """What is known of a finding before it is found.

    ``severities`` are those it can have; ``figure`` says what its figure is, ``unit`` in which
    unit, both empty where it carries none; ``tab`` and ``page`` are where it is seen to.
    """

    code: str
    severities: tuple[Severity, ...]
    tab: str
    page: str
    figure: str = ""
    unit: str = ""

    @property
    def help_page(self) -> str:
        """What explains it: tab and page of the handbook's section, "" for graph files."""
        return f"{self.tab}/{self.page}" if self.tab else ""


def _kinds(
    tab: str, page: str, *rows: tuple[str, str] | tuple[str, str, str, str]
) -> dict[str, FindingKind]:
    """List kinds that are seen to on one page: code, severities by letter, figure and unit."""
    letters = {"E": E, "W": W, "N": N}
    kinds = {}
    for code, bad, *rest in rows:
        figure, unit = rest if rest else ("", "")
        kinds[code] = FindingKind(code, tuple(letters[b] for b in bad), tab, page, figure, unit)
    return kinds


CATALOGUE: dict[str, FindingKind] = {
    **_kinds(
        "Vehicle",
        "",
        ("engine-speeds", "E"),
        ("shift-speed", "E"),
        ("working-speed", "E"),
        ("motor-currents", "E"),
        ("current-limit", "E"),
        ("factor-range", "W"),
        ("crown-wheel-side", "E", "gears", "gears"),
        ("final-drive-error", "W", "error of the final drive", "%"),
        ("wheel-size", "N", "wheel off its scale size", "%"),
        ("axle-direction", "E"),
        ("axles-fight", "E", "difference of the axles", "%"),
        ("step-backwards", "W", "step", ""),
        ("uneven-steps", "N", "unevenness of the steps", "%"),
        ("made-range", "W"),
        ("tip-diameter", "E"),
        ("bearing-wall", "E"),
    ),
    **_kinds(
        "Ratios",
        "gear",
        ("no-train", "W"),
        ("locked", "E"),
        ("wrong-direction", "E", "meshes", "meshes"),
        ("ratio-error", "W", "ratio error", "%"),
        ("not-in-kit", "E"),
        ("barred", "W"),
        ("no-dog-faces", "E"),
        ("no-seat", "E"),
        ("smaller-gears", "N", "teeth in all", "teeth"),
        ("undercut", "WN", "teeth", "teeth"),
        ("too-big-for-hull", "W", "tip diameter", "mm"),
        ("no-hunting-tooth", "N", "pairs", "pairs"),
        ("doubled-speed", "W", "difference", "%"),
        ("same-result", "W"),
        ("teeth-too-fine", "W", "module", "mm"),
    ),
    **_kinds(
        "Ratios",
        "box",
        ("centre-distance", "E", "tooth sum off", "teeth"),
        ("profile-shift", "N", "profile shift", "modules"),
        ("output-wheel", "W"),
        ("row-does-not-seat", "E"),
        ("rail-and-tie-differ", "W"),
        ("fulcrum-not-placed", "W"),
        ("lever-no-reverse", "N"),
    ),
    **_kinds(
        "Shift",
        "sleeves",
        ("slider-gap", "EW", "gap in neutral", "mm"),
        ("slider-tips", "EW", "room over the gear beneath", "mm"),
        ("slider-stops-short", "E", "travel", "mm"),
        ("slider-not-shared", "W", "teeth apart", "teeth"),
        ("direct-without-ring", "W"),
        ("direct-away-from-input", "E"),
    ),
    **_kinds("Shift", "table", ("reach-locks", "E", "states", "states")),
    **_kinds(
        "Shift",
        "actuator",
        ("gear-unreachable", "E", "gears", "gears"),
        ("drum-angles", "N"),
        ("sleeve-on-both-drums", "E"),
        ("track-too-steep", "W", "slope", "°"),
        ("overlap-unmet", "W", "overlap", "°"),
        ("tracks-run-together", "E", "wall", "mm"),
        ("dogs-deeper-than-travel", "W", "depth of the dogs", "mm"),
        ("detent-locks", "W", "flank angle", "°"),
        ("notches-run-together", "W", "width", "mm"),
        ("positions-lost", "E"),
    ),
    **_kinds("Shift", "functions", ("function-impossible", "E"), ("function-locks", "E")),
    **_kinds(
        "Layout",
        "train",
        ("no-placement", "W"),
        ("shafts-end-inside", "N"),
    ),
    **_kinds(
        "Layout",
        "whole",
        ("layout-out-of-step", "E"),
        ("gear-on-wrong-shaft", "E"),
        ("mesh-in-two-layers", "E"),
        ("bad-seat", "E"),
        ("clash", "E"),
        ("outside-hull", "E"),
        ("one-support", "E"),
        ("holes-too-near", "E"),
        ("no-room-for-fork", "E"),
        ("shafts-find-no-place", "W"),
        ("functions-without-place", "W"),
        ("no-way-to-the-drum", "W"),
        ("no-way-to-the-lever", "W"),
        ("lever-too-short", "W"),
        ("no-room-for-disc", "W"),
        ("body-touches", "W", "depth", "mm"),
        ("body-without-room", "W"),
        ("bodies-not-tried", "W"),
        ("function-fork-missing", "W"),
        ("function-skips-at-stall", "W", "torque that it holds", "N·mm"),
        ("no-way-in", "W", "parts", "parts"),
        ("post-hangs", "W"),
        ("centre-too-far", "W", "centre distance", "mm"),
    ),
    **_kinds(
        "Layout",
        "stack",
        ("stack-too-long", "W", "length", "mm"),
        ("shafts-unequal", "N", "overhang", "mm"),
        ("shaft-too-long", "E", "length", "u"),
        ("beam-too-long", "N"),
        ("thin-sleeve", "E"),
        ("far-from-support", "N", "distance from a support", "mm"),
        ("skips-at-stall", "W", "contact ratio", ""),
        ("no-end-play", "W", "end play", "mm"),
        ("nothing-to-couple-to", "W", "stub", "mm"),
        ("pin-missed", "E", "distance from where it is held", "mm"),
        ("pin-without-shaft", "W"),
        ("no-room-for-spacer", "N", "shafts", "shafts"),
    ),
    **_kinds(
        "Layout",
        "proof",
        ("parts-touch", "E", "depth", "mm"),
        ("no-common-phase", "E"),
    ),
    **_kinds(
        "Layout",
        "frame",
        ("bearing-misfit", "E"),
        ("bearing-nowhere", "N"),
        ("no-thrust", "W"),
        ("holes-between", "N"),
        ("thin-wall", "W", "wall between holes", "mm"),
    ),
    **_kinds(
        "Axle",
        "turn",
        ("axle-stalls", "W"),
        ("turn-inside-track", "N", "radius", "mm"),
        ("tyres-slide", "W", "slide of each tyre", "%"),
    ),
    **_kinds(
        "Axle",
        "drive",
        ("differential-clicks", "WN", "force on a tooth", "N"),
        ("planets-misfit", "E"),
        ("planetary-room", "E"),
        ("drop-gears", "E"),
    ),
    **_kinds(
        "Axle",
        "steering",
        ("steering-stuck", "E", "lock", "°"),
        ("small-lock", "N", "lock", "°"),
        ("joint-angle", "W", "angle", "°"),
    ),
    **_kinds(
        "Axle",
        "room",
        ("housing-small", "N", "housing", "mm"),
        ("drags", "E", "clearance", "mm"),
        ("hub-case", "W", "hub case", "mm"),
        ("springs-soft", "W", "travel", "mm"),
        ("link-short", "E", "link", "mm"),
        ("bottoms-out", "W", "room left", "mm"),
    ),
    **_kinds(
        "Axle",
        "line",
        ("offset-large", "W", "offset", "%"),
        ("shaft-drags", "E", "room", "mm"),
    ),
    **_kinds("Trial", "list", ("readings-lost", "N")),
    **_kinds("Trial", "log", ("wear-due", "N", "hours", "h"), ("versions-lost", "N")),
    **_kinds(
        "Workshop",
        "parts",
        ("stock-short", "W", "pieces", "parts"),
        ("not-stocked", "W", "pieces", "parts"),
    ),
    **_kinds(
        "Machine",
        "engine",
        ("rod-too-short", "E", "rod", "mm"),
        ("firing-order", "E"),
        ("uneven-firing", "N"),
        ("wrong-throw", "W", "throw", "°"),
        ("crank-fast", "N", "crank", "rpm"),
    ),
    **_kinds(
        "Machine",
        "lever",
        ("lever-jams", "E", "place", "mm"),
        ("pawl-leaves-wheel", "W", "swing", "mm"),
        ("no-tooth-gained", "E", "stroke", "mm"),
        ("ratchets-together", "W", "phase", "°"),
        ("uneven-phases", "N", "gap", "°"),
        ("fulcrum-stops", "E"),
    ),
    **_kinds(
        "Machine",
        "clutch",
        ("clutch-slips", "EW", "torque held", "N·mm"),
        ("clutch-drags", "E", "gap", "mm"),
        ("lining-pressed", "E", "pressure", "N/mm²"),
        ("clutch-ring", "E"),
    ),
    **_kinds(
        "Machine",
        "liquid",
        ("line-runs-out", "E", "travel", "mm"),
        ("line-pressure", "W", "pressure", "N/mm²"),
        ("line-no-clutch", "W"),
        ("wheels-lock", "N", "brake torque", "N·mm"),
        ("line-weak", "E", "force", "N"),
    ),
    **_kinds(
        "Machine",
        "cables",
        ("hole-shared", "W"),
        ("cable-jams", "E"),
        ("cables-apart", "W", "difference", "%"),
        ("cable-travel", "W", "travel", "mm"),
    ),
    **_kinds(
        "Machine",
        "crane",
        ("coupling-not-keyed", "N", "offset", ""),
        ("outputs-stall", "W", "torque asked", "N·mm"),
        ("thread-jams", "E"),
        ("load-runs-back", "W"),
        ("rope-over-flange", "E", "outer layer", "mm"),
        ("adjuster-short", "E", "reach of the adjuster", "mm"),
        ("nothing-loose", "N"),
        ("no-share", "W"),
        ("out-of-step", "W", "share of the speed", ""),
        ("output-stands", "E"),
        ("screw-runs-back", "W", "lead", "mm"),
        ("ropes-out-of-step", "W", "difference of the ropes", "mm"),
        ("output-stalls", "E", "torque asked", "N·mm"),
    ),
    **_kinds(
        "Machine",
        "balance",
        ("weight-share", "W"),
        ("tips", "E", "margin", "mm"),
        ("tips-soon", "W", "stability", ""),
        ("tips-empty", "E", "margin", "mm"),
        ("tips-empty-soon", "W", "stability", ""),
        ("tips-road", "E", "margin", "mm"),
        ("not-level", "W", "tilt", "°"),
        ("ring-lifts", "W", "lift", "N"),
        ("mass-differs", "N", "mass", "kg"),
        ("weight-runs-in", "W", "share", ""),
        ("reach-range", "E"),
    ),
    **_kinds("Machine", "bearings", ("bearing", "W", "load", "N")),
    **_kinds(
        "",
        "",
        ("body-twice", "E"),
        ("no-input", "E"),
        ("coupled-to-itself", "E"),
        ("gear-on-no-shaft", "W"),
        ("loose-end", "EW"),
        ("inputs-fight", "E"),
        ("not-solved", "E"),
        ("astray", "E"),
    ),
}
"""All kinds by code. Those of graph files are seen to in the file, on no page."""


def kind_of(code: str) -> FindingKind:
    """Find a kind by its code.

    Raises
    ------
    KeyError
        No finding has that code.
    """
    return CATALOGUE[code]
