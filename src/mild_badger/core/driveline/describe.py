"""How a share of the power is told, the same wherever it is shown."""

from mild_badger.core.message import say

__all__ = ["COUNTED", "describe_passing"]

COUNTED = say("driveline.losses-in-loaded-teeth-count-drag-of-idle")


def describe_passing(share: float, through: str = say("driveline.the-box")) -> str:
    """Say what share of the power passes, 0 to 1, and that drag is left out."""
    return say(
        "driveline.about-of-the-power-passes-drag-left-out", share=100 * share, through=through
    )
