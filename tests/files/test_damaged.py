"""A seeded sample of damaged files and extreme documents: sentences and findings, never faults."""

import json
from pathlib import Path

import pytest

from extremes import extreme_vehicle
from mild_badger.core.evaluate import evaluate
from mild_badger.core.publish.report import report
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mutations import KINDS, read_mutated


@pytest.mark.parametrize("kind", KINDS)
def test_damaged_files_are_a_short_sentence_or_are_read(kind: str, tmp_path: Path) -> None:
    sentences = {read_mutated(kind, seed, tmp_path) for seed in range(40)}
    if kind not in ("recovery", "pulses"):  # damaged copies and lines are passed over
        assert len(sentences) > 3


def test_extreme_documents_give_findings_and_exports() -> None:
    for seed in range(20):
        evaluation = evaluate(extreme_vehicle(seed))
        json.dumps(report(evaluation))
        assert gears_csv(evaluation)
        assert parts_csv(evaluation)
        assert sheet_pdf(evaluation)[:4] == b"%PDF"
