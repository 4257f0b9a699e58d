"""What shafts are called: told apart, by the builder's gear names, and never by an id."""

from mild_badger.core.layout.names import shaft_words
from mild_badger.core.vehicle.edit.apply import apply_edit
from mild_badger.core.vehicle.edit.gears import rename_gear
from mild_badger.core.vehicle.edit.slots import set_train
from mild_badger.core.vehicle.train import GearPair
from strategies import placed_demo


def test_shafts_of_a_train_are_counted_in_the_powers_order() -> None:
    plain = placed_demo("larkholm-mail-bus")
    assert plain.layout is not None
    vehicle = apply_edit(plain, rename_gear(plain, "1", "lo"))
    assert vehicle.layout is not None
    words = [shaft_words(vehicle, shaft.name) for shaft in vehicle.layout.shafts]
    assert len(set(words)) == len(words)
    pairs = (
        GearPair(driver=8, driven=24, idlers=(8, 16)),
        GearPair(driver=12, driven=20),
        GearPair(driver=12, driven=20, idlers=(16,)),
    )
    longer = apply_edit(vehicle, set_train(vehicle, "1", pairs))
    known = {shaft_words(longer, f"gear 1/idler shaft {n}") for n in ("0.0", "0.1", "2.0")}
    assert known == {"lo: idler 1", "lo: idler 2", "lo: idler 3"}
    assert shaft_words(longer, "gear 1/shaft 2") == "lo: shaft 2"
    bare = apply_edit(vehicle, set_train(vehicle, "1", (GearPair(driver=8, driven=40),)))
    assert shaft_words(bare, "gear 1/idler shaft 0.0") == "lo: idler, gone"
    assert shaft_words(bare, "selector.2") == "selector 2"
