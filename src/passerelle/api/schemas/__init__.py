"""What goes over the wire, beyond the core's own records: a module a room."""
