"""From links and the plan to parts: the bill, reels and their cuts, labels, the day of pulling, what arrives."""
