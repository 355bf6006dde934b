"""Values to any number of right digits, bounded evaluation, sampling."""
