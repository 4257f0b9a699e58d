"""What `check --json` tells of the road and the running gear."""

import json

from examples import example_vehicle
from mild_badger.core.axle.clearance import clearance
from mild_badger.core.evaluate import evaluate
from mild_badger.core.message import say
from mild_badger.core.publish.report import report


def test_pull_and_running_gear_are_reported() -> None:
    bus = example_vehicle()
    data = json.loads(json.dumps(report(evaluate(bus))))
    assert [row["gear"] for row in data["pull"]] == ["1", "2", "3", "4", "5", "6", "R"]
    assert all(row["limit"] == say("performance.the-tyres-grip") for row in data["pull"])
    assert data["running"]["ground_clearance_mm"] == clearance(bus).ground_mm
    assert data["running"]["stopped_by"] == say("axle.the-racks-end")
    assert report(evaluate(example_vehicle("larkholm-street-sweeper")))["running"] is None
