"""The people of Lantern Quay: made up, modelled as distance fields and lit, so that tests and demo need no photograph of anybody."""
