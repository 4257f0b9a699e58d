"""What is to be said of the gears of a box, one by one."""
