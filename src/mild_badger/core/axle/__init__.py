"""The driven axle on the road: turns, held and lifted wheels, slip."""
