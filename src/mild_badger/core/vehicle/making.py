"""How parts are made: material, width of the cut, fits, bores, webs, paper for templates.

Lengths mm.
"""

from typing import Annotated, Literal

from pydantic import Field

from mild_badger.core.vehicle.base import Angle, DocumentNode, Length, Teeth

__all__ = [
    "FITS",
    "USUAL_MM",
    "BoreShape",
    "FabricationSettings",
    "Fit",
    "Material",
    "OwnGear",
    "Web",
]

Material = Literal["plywood", "hardwood", "acrylic", "print"]
Fit = Literal["glued", "press", "running", "loose"]
BoreShape = Literal["round", "square", "keyed"]
Web = Literal["solid", "holes", "spokes"]
Paper = Literal["A4", "A3", "Letter"]
Allowance = Annotated[float, Field(ge=-2, le=5)]

FITS: tuple[Fit, ...] = ("glued", "press", "running", "loose")
USUAL_MM: dict[Material, dict[Fit, float]] = {
    "plywood": {"glued": 0.1, "press": 0.0, "running": 0.2, "loose": 0.5},
    "hardwood": {"glued": 0.1, "press": -0.05, "running": 0.25, "loose": 0.6},
    "acrylic": {"glued": 0.05, "press": 0.0, "running": 0.15, "loose": 0.4},
    "print": {"glued": 0.2, "press": 0.1, "running": 0.3, "loose": 0.6},
}
"""What a hole is wider than its shaft (common practice, no source; the test strip finds yours)."""


class OwnGear(DocumentNode):
    """A gear, ring or rack to any figures, beside those of the vehicle.

    ``segments`` is of how many a large one is glued up; 0 leaves it whole.
    """

    kind: Literal["gear", "ring", "rack"] = "gear"
    teeth: Teeth = 24
    module_mm: Length = 2.0
    pressure_angle_deg: Annotated[Angle, Field(ge=10, le=35)] = 20.0
    shift: Annotated[float, Field(ge=-1.5, le=1.5)] = 0.0
    thinning_mm: Annotated[float, Field(ge=0, le=5)] = 0.1
    bore_mm: Length = 6.0
    segments: Annotated[int, Field(ge=0, le=48)] = 0

    @property
    def glued(self) -> bool:
        """Whether it is glued up of segments; a rack never is."""
        return self.segments > 0 and self.kind != "rack"


class FabricationSettings(DocumentNode):
    """What every template keeps to.

    ``material`` None takes the kit's. ``kerf_mm`` is what the saw, laser or cutter takes away.
    ``glued_mm`` to ``loose_mm`` are what a hole is made wider than what goes in, None for the
    material's usual. A ``square`` bore is as wide across its flats as the shaft; ``key_mm`` is
    the width of a keyed one's way. ``web_count`` holes or spokes lighten a gear; ``dowels`` holes
    of ``dowel_mm`` hold layers together. Rods, posts and tubes come ``rod_mm`` long and are sawn by
    a blade ``saw_mm`` wide; boards are ``board_mm`` × ``board_high_mm``, ``gap_mm`` is left between
    parts on them. Dog rings have ``dog_count`` dogs ``dog_mm`` thick and ``dog_play_deg`` of play.
    """

    material: Material | None = None
    kerf_mm: Annotated[float, Field(ge=0, le=10)] = 0.0
    glued_mm: Allowance | None = None
    press_mm: Allowance | None = None
    running_mm: Allowance | None = None
    loose_mm: Allowance | None = None
    fixed_fit: Fit = "press"
    bore: BoreShape = "round"
    key_mm: Length = 2.0
    web: Web = "solid"
    web_count: Annotated[int, Field(ge=3, le=24)] = 5
    rim_mm: Length = 3.0
    dowels: Annotated[int, Field(ge=0, le=12)] = 0
    dowel_mm: Length = 3.0
    rod_mm: Annotated[float, Field(gt=0, le=10_000)] = 1000.0
    saw_mm: Annotated[float, Field(ge=0, le=10)] = 1.0
    paper: Paper = "A4"
    overlap_mm: Annotated[float, Field(ge=0, le=40)] = 10.0
    dog_count: Annotated[int, Field(ge=2, le=16)] = 6
    dog_play_deg: Annotated[float, Field(ge=0, le=90)] = 6.0
    dog_mm: Length = 4.0
    board_mm: Annotated[float, Field(ge=20, le=5000)] = 600.0
    board_high_mm: Annotated[float, Field(ge=20, le=5000)] = 300.0
    gap_mm: Annotated[float, Field(ge=0, le=100)] = 4.0
    own: OwnGear = OwnGear()

    def allowance_mm(self, fit: Fit, kit_kind: str) -> float:
        """Give what a hole is made wider than its shaft in diameter."""
        chosen: float | None = getattr(self, f"{fit}_mm")
        return USUAL_MM[self.made_of(kit_kind)][fit] if chosen is None else chosen

    def made_of(self, kit_kind: str) -> Material:
        """Give the material that counts: the chosen one, or a kit's own."""
        return self.material or ("print" if kit_kind == "printed" else "plywood")
