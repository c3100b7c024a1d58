"""Published encodings: whatever the colour-science library offers when it is asked."""

import warnings
from collections.abc import Callable
from functools import lru_cache

import numpy as np

from fotonomy.core.curves.sampled import Cut, cut_of, from_encoding
from fotonomy.core.curves.transfer_functions import Tabulated, Values
from fotonomy.core.errors import RuleError
from fotonomy.exchange.errors import ExchangeError


@lru_cache(maxsize=1)
def _library() -> dict[str, Callable[[Values], Values]]:
    # The library is large and takes a second to load: only those who ask for it wait.
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        import colour

    return dict(colour.CCTF_ENCODINGS)


def published_names() -> tuple[str, ...]:
    """Names of the encodings as the library has them."""
    return tuple(_library())


# Whose encodings are shown unasked: bodies that set standards. Others are found by name.
STANDARDS_BODIES = ("ITU-R", "ITU-T", "SMPTE", "ST 2084", "ARIB", "DICOM", "sRGB")
# Shortest part of a name that is looked for among the others.
LEAST_ASKED = 3


def listed_names(asked: str) -> tuple[str, ...]:
    """Encodings to choose from: of standards bodies, or those whose name holds what was typed."""
    wanted = asked.strip().casefold()
    found = [name for name in published_names() if wanted in name.casefold()]
    if len(wanted) >= LEAST_ASKED:
        return tuple(found)
    return tuple(name for name in found if name.startswith(STANDARDS_BODIES))


@lru_cache(maxsize=128)
def published_cut(name: str, curve: Tabulated) -> Cut | None:
    """What the table of a published encoding lost of it; None where nothing is missing."""
    with warnings.catch_warnings(), np.errstate(all="ignore"):
        warnings.simplefilter("ignore")
        return cut_of(curve, _library()[name])


def published_curve(name: str) -> Tabulated:
    """An encoding by its name, sampled. Raises ExchangeError for one that makes no curve."""
    encoding = _library().get(name)
    if encoding is None:
        raise ExchangeError(name[:80], "the library has no encoding of this name")
    try:
        with warnings.catch_warnings(), np.errstate(all="ignore"):
            warnings.simplefilter("ignore")
            return from_encoding(name, encoding)
    except RuleError as error:
        raise ExchangeError(name, f"as a table it {error.rule}") from error
