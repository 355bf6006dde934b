"""Definite integrals with error bounds: Gauss's rule on pieces where the integrand is analytic, and bounds of what is left at the ends.

Sources: L. Trefethen, "Is Gauss quadrature better than Clenshaw-Curtis?" (2008), theorem 4.5, for the error on an ellipse; F. Johansson,
"Numerical integration in arbitrary-precision ball arithmetic" (2018), for pieces that are halved until bounds on them suffice.
"""

from gelvo.deciding.bounded_integrals.integral import bounded_integral as bounded_integral
