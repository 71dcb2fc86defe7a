"""Work that was not done, or ended before it was."""


class StoppedError(RuntimeError):
    """A job that was stopped by hand, or took too long; nothing was changed."""


class CrowdedError(RuntimeError):
    """More work than there are places to wait for it; ``retry_s`` is when one may be free."""

    def __init__(self, retry_s: int) -> None:
        super().__init__(
            f"Too many large requests are waiting. Nothing was changed. Try again in about {retry_s} s."
        )
        self.retry_s = retry_s
