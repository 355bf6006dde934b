"""The functions that the rooms above speak of, by name: `SIN(x)` builds, `is_a(node, SIN, COS)` tells."""

from __future__ import annotations

from typing import TypeGuard

from gelvo.expression.building import call
from gelvo.expression.nodes import Call, Expression


class FunctionName(str):
    """The name of a function that is in the catalogue; called with arguments it builds.

    >>> from gelvo.expression.building import name
    >>> print(SIN(2*name("x")))
    sin(2*x)
    """

    __slots__ = ()

    def __call__(self, *arguments: Expression) -> Expression:
        return call(self, *arguments)


def is_a(node: object, *functions: str) -> TypeGuard[Call]:
    """Whether a node is one of these functions of something.

    >>> from gelvo.expression.building import name
    >>> is_a(EXP(name("x")), SIN, COS)
    False
    """
    return isinstance(node, Call) and node.function.name in functions


ABS = FunctionName("abs")
ACOS = FunctionName("acos")
ACOSH = FunctionName("acosh")
ACOT = FunctionName("acot")
ACOTH = FunctionName("acoth")
ACSC = FunctionName("acsc")
ACSCH = FunctionName("acsch")
AIRYAI = FunctionName("airyai")
AIRYAI_PRIME = FunctionName("airyai_prime")
AIRYBI = FunctionName("airybi")
AIRYBI_PRIME = FunctionName("airybi_prime")
ARG = FunctionName("arg")
ASEC = FunctionName("asec")
ASECH = FunctionName("asech")
ASIN = FunctionName("asin")
ASINH = FunctionName("asinh")
ATAN = FunctionName("atan")
ATAN2 = FunctionName("atan2")
ATANH = FunctionName("atanh")
BESSELI = FunctionName("besseli")
BESSELJ = FunctionName("besselj")
BESSELK = FunctionName("besselk")
BESSELY = FunctionName("bessely")
BETA = FunctionName("beta")
BETA_INC = FunctionName("beta_inc")
BINOMIAL = FunctionName("binomial")
CBRT = FunctionName("cbrt")
CEIL = FunctionName("ceil")
CHEBYT = FunctionName("chebyt")
CHEBYU = FunctionName("chebyu")
CHI = FunctionName("Chi")
CI = FunctionName("Ci")
CONJ = FunctionName("conj")
COS = FunctionName("cos")
COSH = FunctionName("cosh")
COT = FunctionName("cot")
COTH = FunctionName("coth")
CSC = FunctionName("csc")
CSCH = FunctionName("csch")
DIGAMMA = FunctionName("digamma")
DIRAC_DELTA = FunctionName("dirac_delta")
EI = FunctionName("Ei")
ELLIPE = FunctionName("ellipe")
ELLIPEINC = FunctionName("ellipeinc")
ELLIPF = FunctionName("ellipf")
ELLIPK = FunctionName("ellipk")
ELLIPPI = FunctionName("ellippi")
ELLIPPIINC = FunctionName("ellippiinc")
ERF = FunctionName("erf")
ERFC = FunctionName("erfc")
ERFI = FunctionName("erfi")
EXP = FunctionName("exp")
FACTORIAL = FunctionName("factorial")
FLOOR = FunctionName("floor")
FRESNELC = FunctionName("fresnelc")
FRESNELS = FunctionName("fresnels")
GAMMA = FunctionName("gamma")
GAMMA_INC = FunctionName("gamma_inc")
HEAVISIDE = FunctionName("heaviside")
HERMITE = FunctionName("hermite")
HYP0F1 = FunctionName("hyp0f1")
HYP1F1 = FunctionName("hyp1f1")
HYP2F1 = FunctionName("hyp2f1")
IM = FunctionName("im")
JACOBIAM = FunctionName("jacobiam")
JACOBICN = FunctionName("jacobicn")
JACOBIDN = FunctionName("jacobidn")
JACOBISN = FunctionName("jacobisn")
LAGUERRE = FunctionName("laguerre")
LAMBERTW = FunctionName("lambertw")
LAMBERTW_LOWER = FunctionName("lambertw_lower")
LEGENDRE = FunctionName("legendre")
LI = FunctionName("li")
LN = FunctionName("ln")
LOG10 = FunctionName("log10")
LOG2 = FunctionName("log2")
LOGGAMMA = FunctionName("loggamma")
MAX = FunctionName("max")
MIN = FunctionName("min")
POLYGAMMA = FunctionName("polygamma")
POLYLOG = FunctionName("polylog")
RE = FunctionName("re")
SEC = FunctionName("sec")
SECH = FunctionName("sech")
SHI = FunctionName("Shi")
SI = FunctionName("Si")
SIGN = FunctionName("sign")
SIN = FunctionName("sin")
SINH = FunctionName("sinh")
SINHC = FunctionName("sinhc")
SPHERICALJ = FunctionName("sphericalj")
SPHERICALY = FunctionName("sphericaly")
STRUVEH = FunctionName("struveh")
STRUVEL = FunctionName("struvel")
TAN = FunctionName("tan")
TANH = FunctionName("tanh")
ZETA = FunctionName("zeta")
