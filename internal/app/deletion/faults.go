package deletion

import "tabularis/core/fault"

// What is refused here.
var errCodeDiffers = fault.Declare(fault.Invalid, "code-differs", "that is not the code of the dossier")
