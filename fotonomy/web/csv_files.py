"""CSV files as answers, in which no cell is taken for a formula."""

import csv
from collections.abc import Iterable, Sequence

from django.http import HttpResponse

from fotonomy.core.traced_numbers import plain


def plain_cell(cell: object) -> object:
    """A cell that no spreadsheet takes for a formula: such text begins with an apostrophe.

    Numbers stay numbers, a minus before one too. What leads to a working on a page is plain here.
    """
    if isinstance(cell, str):
        cell = plain(cell)
    if not isinstance(cell, str) or not cell.startswith(("=", "+", "-", "@", "\t", "\r")):
        return cell
    try:
        float(cell)
    except ValueError:
        return f"'{cell}"
    return cell


def csv_answer(
    name: str, header: Sequence[str], rows: Iterable[Sequence[object]]
) -> HttpResponse:  # fmt: skip
    """A file of rows under a header, to be kept under a name."""
    answer = HttpResponse(content_type="text/csv; charset=utf-8")
    writer = csv.writer(answer)
    writer.writerow(header)
    for row in rows:
        writer.writerow([plain_cell(cell) for cell in row])
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer
