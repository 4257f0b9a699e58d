"""Lewis factors, kits in words."""

import pytest

from mild_badger.core.errors import InputError
from mild_badger.core.kit.catalogue import shipped_kit
from mild_badger.core.mesh.describe import (
    describe_size,
    describe_stock,
    describe_undercut,
    duplicate_name,
    parse_sizes,
)
from mild_badger.core.mesh.lewis import lewis_factor, lewis_load_n, lewis_stress_mpa
from telling import tells


def test_lewis_as_in_the_books() -> None:
    # Shigley Ex. 14-1: P 8, F 1.5 in, 16 T, Y 0.296, 10 kpsi, Kv 1.5236: 364.3 lbf (book ≈ 365)
    assert lewis_factor(16) == 0.296
    inch = lewis_load_n(10_000, face_mm=1.5, module_mm=1 / 8, teeth=16)
    assert (inch or 0) / 1.5236 == pytest.approx(364.3, abs=0.1)
    stress = lewis_stress_mpa(10, face_mm=4, module_mm=1, teeth=16)
    assert stress == pytest.approx(8.4459, abs=1e-4)
    # Shigley, Mechanical Engineering Design, table 14-2, from memory
    printed = "12 .245 13 .261 14 .277 15 .290 16 .296 17 .303 18 .309 19 .314 20 .322 21 .328 "
    printed += "22 .331 24 .337 26 .346 28 .353 30 .359 34 .371 38 .384 43 .397 50 .409 60 .422 "
    printed += "75 .435 100 .447 150 .460 300 .472"
    words = printed.split()
    for teeth, factor in zip(words[::2], words[1::2], strict=True):
        assert lewis_factor(int(teeth)) == float(factor)
    assert lewis_factor(8) is None
    assert lewis_stress_mpa(10, face_mm=4, module_mm=1, teeth=8) is None
    assert lewis_factor(23) == pytest.approx((0.331 + 0.337) / 2)
    assert lewis_factor(80) == pytest.approx(0.435 + (0.447 - 0.435) * 5 / 25)
    assert lewis_load_n(10, face_mm=4, module_mm=1, teeth=11) is None
    assert lewis_factor(999) == 0.480


def test_kits_in_words() -> None:
    assert parse_sizes("11, 13–15 20") == [11, 13, 14, 15, 20]
    assert parse_sizes("4 to 6; 400, 5") == [4, 5, 6, 400]
    assert parse_sizes("") == []
    assert describe_size((8, 10, 11, 12, 20)) == "8, 10 to 12, 20"
    assert describe_size((8, 9, 11, 12, 13, 14)) == "8, 9, 11 to 14"
    assert describe_size(()) == ""
    assert duplicate_name("Mine", set()) == "Mine 2"
    assert duplicate_name("Mine", {"Mine 2", "Mine 3"}) == "Mine 4"
    assert (describe_stock(None), describe_stock(0), describe_stock(12)) == ("made", "0", "12")
    for bad in ("eleven", "3", "20-10", "401", "5-", "390-401"):
        with pytest.raises(InputError):
            parse_sizes(bad)


def test_undercut_sizes_are_listed_where_teeth_are_cut() -> None:
    wood = shipped_kit("wood-shop")  # 20°: 2 / sin² = 17.097, so 17 is taken as sound
    assert tells(describe_undercut(wood), "mesh.at-teeth-of-gears-with-fewer-than-are", limit="17")
    assert "10 to 16" in describe_undercut(wood)
    sound = wood.model_copy(update={"gears": (), "barred": tuple(range(10, 17))})
    assert tells(describe_undercut(sound), "mesh.at-cut-teeth-are-sound-from-up", limit="17")
    assert tells(
        describe_undercut(shipped_kit("brick-grid")),
        "mesh.at-cut-teeth-are-sound-from-up",
        limit="17",
    )
