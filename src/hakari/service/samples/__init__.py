"""Samples: photos measured, corrected, compared, sieved and exported."""
