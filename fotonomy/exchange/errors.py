"""What a refused file says."""


class ExchangeError(ValueError):
    """A file is damaged or foreign. ``place`` says where, ``problem`` what is wrong there."""

    def __init__(self, place: str, problem: str) -> None:
        super().__init__(f"{place}: {problem}")
        self.place = place
        self.problem = problem
