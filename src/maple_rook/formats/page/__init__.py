"""A page to be published as plain blocks, and the formats it is written in."""
