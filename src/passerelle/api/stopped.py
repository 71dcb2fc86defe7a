"""Work that ended before it was done."""


class StoppedError(RuntimeError):
    """A job that was stopped by hand, or took too long; nothing was changed."""
