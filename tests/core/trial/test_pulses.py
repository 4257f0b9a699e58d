"""The tachometer's lines: read or refused one by one, with counts, in pieces of any size."""

from random import Random

from hypothesis import given
from hypothesis import strategies as st

from mild_badger.core.trial.pulses import WRAP_US, PulseReader
from telling import tells


def read(text: str) -> PulseReader:
    reader = PulseReader()
    reader.feed(text)
    reader.close()
    return reader


def test_a_long_file_with_garbage_gaps_and_backward_stamps_is_counted_line_by_line() -> None:
    random = Random(4)
    lines, good, refused, backward, now = [], 0, 0, 0, 0
    for _ in range(10_000):
        kind = random.random()
        if kind < 0.80:
            now += random.choice((4_000, 5_000, 3_000_000 if random.random() < 0.01 else 6_000))
            lines.append(f"{now},{random.choice((1, 2))}")
            good += 1
        elif kind < 0.84:
            lines.append("")
        elif kind < 0.88:
            lines.append("# a remark")
        elif kind < 0.92:
            lines.append(f"{max(now - random.randint(1, 2_000), 0)},1")
            backward += 1
            refused += 1
        else:
            lines.append(
                random.choice(
                    (
                        "nonsense",
                        "12,",
                        ",1",
                        "1.5,1",
                        "7,3",
                        "-4,1",
                        "1,2,3",
                        "\x00\xff",
                        "9" * 4000,
                        "²,1",
                        "1e9,2",
                        "0x10,1",
                        f"{now},１",
                    )
                )
            )
            refused += 1
    reader = read("\r\n".join(lines) + "\r\n")
    # an over-long line is one line however it comes
    assert (reader.lines, reader.pulses) == (10_000, good)
    assert (reader.refused, reader.backward) == (refused, backward)
    assert sum(map(len, reader.times_us.values())) == good
    assert all(t == sorted(t) for t in reader.times_us.values())
    assert f"{refused} refused" in reader.summary
    assert tells(
        reader.summary, "trial.of-them-with-a-time-before-the-last", backward=str(backward)
    )
    first = reader.refusals[0]
    assert lines[first.line - 1].startswith(first.text[:5])


@given(st.text(alphabet="0123456789,12\n\r #x", max_size=300), st.data())
def test_pieces_of_any_size_say_the_same_as_the_whole(text: str, data: st.DataObject) -> None:
    whole = read(text.replace("\r", ""))
    pieces = PulseReader()
    left = text.replace("\r", "")
    while left:
        size = data.draw(st.integers(1, len(left)))
        pieces.feed(left[:size])
        left = left[size:]
    pieces.close()
    assert pieces.times_us == whole.times_us
    assert (pieces.lines, pieces.refused) == (whole.lines, whole.refused)


def test_a_clock_of_32_bits_may_run_over_once_and_again() -> None:
    last = WRAP_US - 1000
    reader = read(f"{last},1\n500,1\n{WRAP_US // 2},1\n{last},1\n20,2\n")
    assert reader.refused == 0
    assert reader.times_us[1] == [last, WRAP_US + 500, WRAP_US + WRAP_US // 2, WRAP_US + last]
    assert reader.times_us[2] == [2 * WRAP_US + 20]


def test_a_stamp_that_jumps_back_in_the_middle_of_a_run_is_no_overflow() -> None:
    reader = read("900000000,1\n100,1\n900000100,1\n")
    assert (reader.pulses, reader.backward) == (2, 1)
    assert reader.refusals[0].line == 2
