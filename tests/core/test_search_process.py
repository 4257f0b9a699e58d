"""The search process: jobs in, answers out, faults in a sentence."""

import pickle
import subprocess
import sys
from io import BytesIO

from mild_badger.core.compare import compare_all
from mild_badger.core.errors import InputError
from mild_badger.core.ratios.answer import SetAnswer, find_set
from mild_badger.core.vehicle.demo import demo_vehicle
from mild_badger.core.watch import Watch
from mild_badger.search_process import serve
from strategies import vehicle_of


def refuse(*, watch: Watch) -> None:
    watch.tick(0.5, "half")
    raise InputError("No such thing.")


def break_down(*, watch: Watch) -> None:
    raise KeyError("within")


def answers(*jobs: tuple[object, tuple[object, ...]]) -> list[tuple[object, ...]]:
    sent, got = BytesIO(b"".join(pickle.dumps(job) for job in jobs)), BytesIO()
    serve(sent, got)
    got.seek(0)
    found = []
    while True:
        try:
            found.append(pickle.load(got))
        except EOFError:
            return found


def test_faults_are_told_and_the_next_job_is_done() -> None:
    said = answers((refuse, ()), (break_down, ()), (find_set, (demo_vehicle(),)))
    assert said[0] == ("told", 0.5, "half")
    assert said[1] == ("failed", "No such thing.")
    assert said[2][0] == "failed"
    assert "KeyError" in str(said[2][1])
    kind, found = said[-1]
    assert kind == "done"
    assert isinstance(found, SetAnswer)
    assert found == find_set(demo_vehicle())


def test_a_real_process_answers_and_ends_with_its_input() -> None:
    vehicle = vehicle_of(2.0, 1.0)
    done = subprocess.run(
        [sys.executable, "-m", "mild_badger.search_process"],
        input=pickle.dumps((compare_all, (vehicle,))),
        capture_output=True,
        check=True,
    )
    stream, last = BytesIO(done.stdout), None
    while stream.tell() < len(done.stdout):
        last = pickle.load(stream)
    assert last is not None
    assert last[0] == "done"
    assert [offer.kind for offer in last[1]] == [offer.kind for offer in compare_all(vehicle)]
    assert done.stderr == b""
