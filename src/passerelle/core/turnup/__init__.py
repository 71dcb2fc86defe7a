"""Turn-up: from the plan and the accepted readings to a link that is lit, logged and handed over."""
