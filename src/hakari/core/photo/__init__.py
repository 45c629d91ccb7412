"""From a photo to measured grounds: decode, scale, paper, regions, coverage, separate, measure, judge."""
