"""From a photo to measured grounds: decode, scale, flatten, detect, separate, measure, judge."""
