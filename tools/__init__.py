"""What measures and makes things beside the product. The product comes first: it says how many threads the linear algebra takes, and
only what says so before numpy loads is heard."""

import fravik as fravik
