"""Findings: what the program noticed, how much, where, and what would mend it."""

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from mild_badger.core.vehicle.edit.change import Edit

__all__ = ["Finding", "Severity", "worst_severity"]


class Severity(StrEnum):
    """How bad it is: an error will not work, a warning may not, a note is good to know."""

    ERROR = "error"
    WARNING = "warning"
    NOTE = "note"


@dataclass(frozen=True)
class Finding:
    """One thing the builder should know.

    Parameters
    ----------
    severity
        How bad it is.
    code
        A stable name, for scripts and tests.
    where
        What it concerns: gear names, stations, body ids.
    title
        The finding in a few words.
    text
        A plain sentence with the figure and the limit.
    figure, limit
        The numbers themselves, where there are any, in the unit named by ``unit``.
    mend
        An edit that would mend it, where one is known.
    """

    severity: Severity
    code: str
    where: tuple[str, ...]
    title: str
    text: str
    figure: float | None = None
    limit: float | None = None
    unit: str = ""
    mend: Edit | None = None

    def as_json(self) -> dict[str, Any]:
        """Give the finding as plain data for the command line."""
        return {
            "severity": self.severity.value,
            "code": self.code,
            "where": list(self.where),
            "title": self.title,
            "text": self.text,
            "figure": self.figure,
            "limit": self.limit,
            "unit": self.unit,
            "mend": self.mend.label if self.mend else None,
        }


def worst_severity(findings: tuple[Finding, ...]) -> Severity | None:
    """Return the worst severity among the findings, or None for a clean sheet."""
    for severity in Severity:
        if any(finding.severity is severity for finding in findings):
            return severity
    return None
