"""How many classes: the fewest that fit, against the fits of mapclassify's exact optimum."""

import mapclassify
import numpy as np
import pytest
from greylatch.classes.suggest import suggested_classes
from greylatch.errors import BadInput


@pytest.mark.parametrize("seed", range(4))
def test_it_is_the_fewest_whose_best_fit_passes_nine_tenths(seed: int) -> None:
    """mapclassify.FisherJenks as the referee of each fit (Jenks and Caspall 1971: 1 − within / total sum of squares)."""
    values = np.random.default_rng(seed).lognormal(sigma=0.4 + 0.3 * seed, size=300)
    suggestion = suggested_classes(values)
    fits = {}
    for k in range(3, 8):
        index = mapclassify.FisherJenks(values, k=k).yb
        within = sum(((values[index == i] - values[index == i].mean()) ** 2).sum() for i in range(k))
        fits[k] = 1 - within / ((values - values.mean()) ** 2).sum()
    enough = [k for k, fit in fits.items() if fit >= 0.9]
    assert suggestion.classes == (enough[0] if enough else 7)
    assert str(suggestion.classes) in suggestion.because


def test_few_different_values_are_as_many_classes() -> None:
    assert suggested_classes(np.array([2.0, 2, 5, np.nan])).classes == 2
    assert suggested_classes(np.array([2.0])).because == "There is one value."
    with pytest.raises(BadInput, match="every value is missing"):
        suggested_classes(np.array([np.nan]))
    many = np.random.default_rng(0).lognormal(size=400_000)
    assert 3 <= suggested_classes(many).classes <= 7
