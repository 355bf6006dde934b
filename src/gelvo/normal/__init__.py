"""The normal form behind every proof of equality."""
