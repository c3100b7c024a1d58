"""Curves against the colour-science library, and the monitor stand-in."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from itertools import count
from typing import Any

import numpy as np

from benchmarks import scale
from benchmarks.measures import percentile, times_ms
from fotonomy.core.analysis.setup import analyse
from fotonomy.core.curves.transfer_functions import AcesCct, Bt709, Curve, Hlg, encode
from fotonomy.exchange.pictures import write_jpeg
from fotonomy.simulators.monitor import View, picture, scopes, signal_of

VALUES = scale.rounds(1_000_000, 20_000)


@dataclass(frozen=True, slots=True)
class CurveTimes:
    """One curve over a million values: ours, and the library's in the same run."""

    name: str
    ours_ms: list[float]
    library_ms: list[float]

    @property
    def ratio(self) -> float:
        """How many times as long the library takes, by medians."""
        return percentile(self.library_ms, 50) / percentile(self.ours_ms, 50)


def curves() -> list[CurveTimes]:
    """BT.709, HLG and ACEScct over a million values, turn about with the library's own."""
    import colour

    rng = np.random.default_rng(4)
    values = 0.18 * 2.0 ** rng.uniform(-10, 2.4, VALUES)
    pairs = (
        ("BT.709", Bt709(), colour.models.oetf_BT709),
        ("HLG", Hlg(), colour.models.oetf_BT2100_HLG),
        ("ACEScct", AcesCct(), colour.models.log_encoding_ACEScct),
    )
    taken = []
    for name, curve, published in pairs:
        ours, library = [], []
        for _ in range(scale.rounds(15)):
            ours += times_ms(partial(_encoded, curve, values), 1, 1)
            library += times_ms(partial(_published, published, values), 1, 1)
        taken.append(CurveTimes(name, ours, library))
    return taken


def _encoded(curve: Curve, values: Any, _: int) -> None:
    encode(curve, values)


def _published(curve: Callable[[Any], Any], values: Any, _: int) -> None:
    curve(values)


def monitor_ms() -> list[float]:
    """One picture of 960 by 540 with its scopes, from the setup to the JPEGs, nothing kept."""
    from fotonomy.shoots.mapping import spec_of
    from fotonomy.shoots.models import Setup
    from fotonomy.shoots.packed_kit import packed_kit

    row = Setup.objects.select_related("shoot__owner").get(code="7A")
    packed, wheel, views = packed_kit(row.shoot), count(), list(View)

    def show(_: int) -> None:
        k = next(wheel)
        # Another iris every time: a picture that was asked for before is not made again.
        row.iris = 2.8 * 2 ** (k / 300)
        analysis = analyse(spec_of(row, packed))
        signal = signal_of(analysis)
        write_jpeg(picture(analysis, signal, views[k % len(views)]))
        write_jpeg(scopes(signal))

    return times_ms(show, 80)
