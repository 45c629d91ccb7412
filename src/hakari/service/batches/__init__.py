"""Many photos at once: listed, measured on every core or a cluster, resumed, and reported."""
