"""The cable plant: places, ways between them, cables in the ways, strands in the cables."""
