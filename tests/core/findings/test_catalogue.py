"""Every finding stands in the catalogue once, as it is found; and the catalogue in no other."""

import ast
from collections.abc import Iterator
from importlib.resources import files

import pytest

from examples import example_vehicle
from extremes import extreme_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.findings.catalogue import CATALOGUE, kind_of
from mild_badger.core.findings.finding import Finding
from mild_badger.core.vehicle.demo import DEMOS
from strategies import placed_demo

MADE_OTHERWISE = {
    "firing-order",
    "uneven-firing",
    "tips",
    "tips-soon",
    "tips-empty",
    "tips-empty-soon",
}
"""Codes that are put together where they are found."""


def codes_in_the_source() -> Iterator[str]:
    """Read every code that stands where a finding is made."""
    core = files("mild_badger.core")
    for path in core.rglob("*.py"):  # type: ignore[attr-defined]
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
                continue
            at = {"Finding": 1, "_found": 0, "_wrong": 0, "_error": 0}.get(node.func.id)
            if at is None or len(node.args) <= at:
                continue
            code = node.args[at]
            if isinstance(code, ast.Constant):
                yield str(code.value)


def test_the_catalogue_lists_what_can_be_found_and_no_more() -> None:
    found = set(codes_in_the_source())
    assert found - set(CATALOGUE) == set()
    assert set(CATALOGUE) - found == MADE_OTHERWISE


def as_listed(finding: Finding) -> None:
    kind = kind_of(finding.code)
    assert finding.severity in kind.severities
    if finding.figure is not None:
        assert kind.figure
        if kind.code != "coupling-not-keyed":  # its output's own unit
            assert finding.unit == kind.unit, finding.code


@pytest.mark.parametrize("name", DEMOS)
def test_what_is_found_is_as_it_is_listed(name: str) -> None:
    for vehicle in (example_vehicle(name), placed_demo(name)):
        for finding in evaluate(vehicle).findings:
            as_listed(finding)


@pytest.mark.parametrize("seed", range(40, 60))
def test_so_it_is_in_extreme_documents(seed: int) -> None:
    for finding in evaluate(extreme_vehicle(seed)).findings:
        as_listed(finding)


def test_every_kind_has_a_place_to_be_seen_to_or_is_a_graph_s() -> None:
    for kind in CATALOGUE.values():
        assert kind.severities
        assert bool(kind.unit) <= bool(kind.figure)
        assert kind.tab or kind.code in {
            "body-twice",
            "no-input",
            "coupled-to-itself",
            "gear-on-no-shaft",
            "loose-end",
            "inputs-fight",
            "not-solved",
            "astray",
        }
