"""Texts as people type them, some hundreds: what the core reads of each, scripts read too, or refuse.

Made of numbers, signs, fractions, decimal commas, units and names in every mixture, with the slips of
a cold thumb: blanks, capitals, a sign too many. Common practice, no source.
"""

from itertools import product

SIGNS = ("", "+", "-", "−", "+ ", "- ", "++", "±")
NUMBERS = (
    "0",
    "1",
    "2",
    "9",
    "12",
    "2.3",
    "0,5",
    "11,5",
    ".5",
    ",5",
    "1 000",
    "1.2.3",
    "1e3",
    "nan",
)
FRACTIONS = ("1/3", "2/3", "1 1/3", "2 2/3", "1/2", "1/50", "1/9", "5/6", "1/0", "10/3", "1/3/3")
UNITS = ("", " stops", " stop", "st", " ev", "EV", " s", " ms", " min", "h", " GB", "mb", " %", "%",
         " frames", " lux", " klx", " m", " percent")  # fmt: skip
NAMES = ("overcast", "Overcast ", " OVERCAST", "sunny", "over cast", "banana", "")
BEFORE = ("EV ", "ev", "ev -", "EV −", "iso ", "f/", "face ", "nd", "ND ")
WHOLE = (
    "f/2.8 1/50 ISO 6400", "f/4 1/60 400", "120 lux", "0.5 klx", "320 cd/m2", "face 38 %", "38 %",
    "EV 9 EV", "9 EV EV", "+30", "-30", "+20", "+21 stops", "1e999", "Infinity", "٣", "½", "1½",
    "\u00a09\u00a0", "9\tEV", "3 m", "three", "0x10", "1_000", "--1", "- -1", "9.", "9,", "nd64",
    "ND 0.9", "0.9", "1.8", "6 stops", "ND", "nd1.2.3", "ND4.8", "nd 1000", "64", "4x",
)  # fmt: skip


def lights() -> list[str]:
    """Light at the spot: changes, EVs, names, and what only the server reads."""
    found = [
        *(f"{sign}{number}{unit}" for sign, number, unit in product(SIGNS, NUMBERS, UNITS[:6])),
        *(f"{sign}{part}{unit}" for sign, part, unit in product(SIGNS, FRACTIONS, UNITS[:4])),
        *(f"{before}{number}" for before, number in product(BEFORE, NUMBERS)),
        *NAMES, *WHOLE,
    ]  # fmt: skip
    return list(dict.fromkeys(found))


def amounts() -> list[str]:
    """Answers of the drill: numbers and fractions with every unit."""
    found = [
        *(f"{sign}{number}{unit}" for sign, number, unit in product(SIGNS[:4], NUMBERS, UNITS)),
        *(f"{sign}{part}{unit}" for sign, part, unit in product(SIGNS[:4], FRACTIONS, UNITS[:12])),
        *(f"{before}{number}" for before, number in product(BEFORE, NUMBERS)),
        *WHOLE,
    ]  # fmt: skip
    return list(dict.fromkeys(found))
