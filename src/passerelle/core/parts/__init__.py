"""Parts: what a hand sees and mates (faces), where light goes through (paths), one module a kind."""
