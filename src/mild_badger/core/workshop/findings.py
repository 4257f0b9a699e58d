"""What is short of the stock."""

from collections.abc import Iterator

from mild_badger.core.findings.finding import Finding, Severity
from mild_badger.core.message import say
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
                say("workshop.not-in-the-kit", name=part.name),
                say("workshop.needed-by", needed=part.needed, listed=", ".join(part.used_by)),
                figure=part.needed,
                limit=0,
                unit="parts",
            )
        elif part.short:
            yield Finding(
                Severity.WARNING,
                "stock-short",
                part.users,
                say("workshop.short", short=part.short, name=part.name),
                say(
                    "workshop.needed-by-the-kit-has",
                    needed=part.needed,
                    listed=", ".join(part.used_by),
                    stock=part.stock,
                ),
                figure=part.needed,
                limit=part.stock,
                unit="parts",
            )
