"""One module a kind, each with its complete ``SPEC``. A new kind is a new module here and nothing else."""
