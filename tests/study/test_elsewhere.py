"""What a scorer printed, read: counts come back as counts, and a text that is not its own is said to be none."""

import pytest

from fairwitness.core.errors import PackageError
from fairwitness.study.elsewhere import read_scores

LINE = (
    "all                          n 100  cylinder 0.930 of 86  cause 0.969 of 65  fault 0.906 of 96  "
    "healthy accused 0.250 of 4  sound cylinder accused 0.021 of 96  established 0.090 of 100  "
    "established and wrong 0.010 of 100  loss 1.42\n"
    "cause fuel                   n  37  cylinder 0.882 of 34  cause 0.957 of 23\n"
)


def test_counts_come_back_with_their_intervals():
    read = read_scores(LINE)
    assert read["cases"] == 100
    hits = {key: (share["hits"], share["count"]) for key, share in read["figures"].items()}
    assert hits == {
        "cylinder": (80, 86),
        "cause": (63, 65),
        "fault": (87, 96),
        "healthy_accused": (1, 4),
        "sound_accused": (2, 96),
        "wrong_established": (1, 100),
    }
    assert all(share["low"] <= share["share"] <= share["high"] for share in read["figures"].values())


@pytest.mark.parametrize("text", ["", "all n 100\n", LINE.replace("cause 0.969 of 65", "cause -"), "nothing of it"])
def test_another_text_is_refused_with_what_is_missing(text):
    with pytest.raises(PackageError) as caught:
        read_scores(text)
    assert "do not tell" in caught.value.sentence
