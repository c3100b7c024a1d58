"""The one family of errors that the core raises on purpose."""


class RuleError(ValueError):
    """A value breaks a rule of the job.

    Carries what a form needs to put the message beside the field:
    ``field`` (name of the field or setting), ``rule`` (a sentence that says
    what is allowed) and ``value`` (what was given, as given).
    """

    def __init__(self, field: str, rule: str, value: object = None) -> None:
        super().__init__(f"{field}: {rule}")
        self.field = field
        self.rule = rule
        self.value = value
