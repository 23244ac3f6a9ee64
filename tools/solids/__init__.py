"""Reference solids: finite-element models of other methods than the product's, whose answers it is checked against."""
