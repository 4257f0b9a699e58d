"""How a share of the power is told, the same wherever it is shown."""

__all__ = ["COUNTED", "describe_passing"]

COUNTED = "Losses in loaded teeth count; drag of idle meshes and bearings is left out."


def describe_passing(share: float, through: str = "the box") -> str:
    """Say what share of the power passes, 0 to 1, and that drag is left out."""
    return f"about {100 * share:.0f} % of the power passes {through}, drag left out"
