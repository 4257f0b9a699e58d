"""A sample of small wrong changes to the heart's code, and how many its own tests notice.

Run by hand, with cosmic-ray installed (`pip install -e '.[mutants]'`); an hour and more:

    python -m benchmarks.mutants [COUNT] [--packages NAME ...] [--seed N] [--out FILE]

Each package is copied with the last commit into a fresh clone and only that package's tests are
run, held figures and those of the changed module first. A change that cannot be imported is not
counted. What survives is printed with its difference; those listed in `EQUIVALENT` change nothing
and are left out of the share.
"""

import argparse
import json
import os
import random
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from cosmic_ray import plugins
from cosmic_ray.ast import ast_nodes, get_ast_from_path
from cosmic_ray.mutating import mutate_and_test, use_mutation
from cosmic_ray.work_item import MutationSpec, TestOutcome

__all__ = ["EQUIVALENT", "PACKAGES", "main", "places", "sample"]

PACKAGES = ("drivetrain", "ratios", "shift", "layout", "mesh", "performance", "axle")
SEED = 20261129
ROOT = Path(__file__).resolve().parents[1]
CORE = "src/mild_badger/core"
EQUIVALENT = frozenset(
    {
        # only how far seats are looked for: beyond three modules none runs
        "src/mild_badger/core/mesh/seats.py:147:core/ReplaceBinaryOperator_Div_Add:5",
        # in neutral the wheels stand, which the same condition asks next
        "src/mild_badger/core/performance/power.py:95:core/ReplaceOrWithAnd:0",
        # a played run has two frames at least
        "src/mild_badger/core/shift/routes.py:36:core/ReplaceComparisonOperator_Gt_GtE:0",
        # at a frame's own time the mean of two frames is that frame
        "src/mild_badger/core/shift/sequence.py:67:core/ReplaceOrWithAnd:0",
        # a parity is 0 or 1, and 1 >> parity is 1 - parity for both
        "src/mild_badger/core/ratios/propose.py:71:core/ReplaceBinaryOperator_Sub_RShift:0",
        # a wall that no shaft stands in has no rows, and so no beams of whatever width
        "src/mild_badger/core/layout/walls.py:64:core/NumberReplacer:9",
        # one piece more where the count is a whole number of pieces; what is in them is the same
        "src/mild_badger/core/ratios/deep.py:282:core/ReplaceUnaryOperator_USub_Invert:6",
    }
)
"""Changes that change nothing, as `module:line:operator:occurrence`, lines as in commit 9c51ea0."""


def places(package: str) -> list[MutationSpec]:
    """List every change that can be made in a package, from the clone's root."""
    found = []
    for path in sorted(Path(CORE, package).rglob("*.py")):
        tree = get_ast_from_path(path)
        nodes = list(ast_nodes(tree))
        for name in sorted(plugins.operator_names()):
            # `X | None` in a signature is no computation.
            if "BitOr" in name:
                continue
            cls = plugins.get_operator(name)
            if cls.arguments():
                continue
            operator = cls()
            spots = (spot for node in nodes for spot in operator.mutation_positions(node))
            found += [
                MutationSpec(
                    module_path=str(path),
                    operator_name=name,
                    operator_args={},
                    occurrence=number,
                    start_pos=start,
                    end_pos=end,
                )
                for number, (start, end) in enumerate(spots)
            ]
    return found


def sample(specs: list[MutationSpec], seed: int) -> list[MutationSpec]:
    """Put the changes in an order that the seed gives; the first ones are the sample."""
    mixed = list(specs)
    random.Random(seed).shuffle(mixed)
    return mixed


def main() -> None:
    """Draw, try and report."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("count", nargs="?", type=int, default=200)
    parser.add_argument("--packages", nargs="+", default=list(PACKAGES))
    parser.add_argument("--seed", type=int, default=SEED)
    parser.add_argument("--out", type=Path)
    given = parser.parse_args()
    share, more = divmod(given.count, len(given.packages))
    rows: list[dict[str, object]] = []
    with tempfile.TemporaryDirectory() as folder:
        clone = Path(folder, "clone")
        subprocess.run(["git", "clone", "-q", str(ROOT), str(clone)], check=True)
        os.chdir(clone)
        os.environ["PYTHONPATH"] = str(clone / "src")
        os.environ["PYTHONDONTWRITEBYTECODE"] = "1"
        for number, package in enumerate(given.packages):
            rows += _tried(package, share + (number < more), given.seed)
            if given.out:
                given.out.write_text(json.dumps(rows, indent=1), encoding="utf-8")
    counted = [row for row in rows if row["id"] not in EQUIVALENT]
    killed = sum(row["killed"] is True for row in counted)
    print(
        f"{killed} of {len(counted)} noticed ({killed / max(len(counted), 1):.1%});"
        f" {len(rows) - len(counted)} listed as changing nothing"
    )


def _tried(package: str, count: int, seed: int) -> list[dict[str, object]]:
    tests = sorted(Path("tests/core", package).rglob("test_*.py"))
    began = time.monotonic()
    subprocess.run(_command(tests), shell=True, check=True, stdout=subprocess.DEVNULL)
    limit = 60 + 4 * (time.monotonic() - began)
    rows: list[dict[str, object]] = []
    for spec in sample(places(package), seed):
        if len(rows) == count:
            break
        if not _importable(spec):
            continue
        stem = spec.module_path.stem
        first = sorted(tests, key=lambda test: ("figures" not in test.stem, stem not in test.stem))
        result = mutate_and_test([spec], _command(first), limit)
        killed = result.test_outcome is not TestOutcome.SURVIVED
        row = f"{spec.module_path}:{spec.start_pos[0]}:{spec.operator_name}:{spec.occurrence}"
        rows.append({"id": row, "killed": killed, "diff": result.diff})
        print(f"{package} {len(rows)}/{count} {'noticed' if killed else 'SURVIVED'} {row}")
        if not killed:
            print(result.diff)
        sys.stdout.flush()
    return rows


def _command(tests: list[Path]) -> str:
    files = " ".join(map(str, tests))
    python = os.environ.get("TEST_PYTHON", sys.executable)
    return f"{python} -m pytest -x -q -p no:pytest-qt -p no:cacheprovider {files}"


def _importable(spec: MutationSpec) -> bool:
    module = ".".join(spec.module_path.with_suffix("").parts[1:]).removesuffix(".__init__")
    python = os.environ.get("TEST_PYTHON", sys.executable)
    with use_mutation(
        spec.module_path, plugins.get_operator(spec.operator_name)(), spec.occurrence
    ) as (_, changed):
        if changed is None:
            return False
        done = subprocess.run([python, "-c", f"import {module}"], capture_output=True, check=False)
    return done.returncode == 0


if __name__ == "__main__":
    main()
