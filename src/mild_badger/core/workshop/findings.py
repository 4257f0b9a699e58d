"""What is short of the stock."""

from collections.abc import Iterator

from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.workshop.parts import PartLine

__all__ = ["stock_findings"]


def stock_findings(parts: tuple[PartLine, ...]) -> Iterator[Finding]:
    """Say which parts the kit lacks, or has too few of."""
    for part in parts:
        if not part.there:
            yield Finding(
                Severity.WARNING,
                "not-stocked",
                part.users,
                f"Not in the kit: {part.name}",
                f"{part.needed} needed by {', '.join(part.used_by)}.",
                figure=part.needed,
                limit=0,
                unit="parts",
            )
        elif part.short:
            yield Finding(
                Severity.WARNING,
                "stock-short",
                part.users,
                f"{part.short} short: {part.name}",
                f"{part.needed} needed by {', '.join(part.used_by)}; the kit has {part.stock}.",
                figure=part.needed,
                limit=part.stock,
                unit="parts",
            )
