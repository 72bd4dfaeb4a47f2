"""Array types used across the core."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

Float = NDArray[np.float32]
Byte = NDArray[np.uint8]
Int = NDArray[np.int32]
Mask = NDArray[np.bool_]
Bands = list[Float]
f32 = np.float32
AnyArray = NDArray[Any]
