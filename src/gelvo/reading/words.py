"""Letters and words that formula text knows beside the functions of the catalogue."""

from __future__ import annotations

import re
import unicodedata

GREEK = {
    "α": "alpha", "β": "beta", "γ": "gamma", "δ": "delta", "ε": "epsilon", "ζ": "zeta", "η": "eta", "θ": "theta",
    "ι": "iota", "κ": "kappa", "λ": "lambda", "μ": "mu", "ν": "nu", "ξ": "xi", "ρ": "rho", "σ": "sigma", "τ": "tau",
    "υ": "upsilon", "φ": "phi", "χ": "chi", "ψ": "psi", "ω": "omega", "Γ": "Gamma", "Δ": "Delta", "Θ": "Theta",
    "Λ": "Lambda", "Ξ": "Xi", "Π": "Pi", "Σ": "Sigma", "Φ": "Phi", "Ψ": "Psi", "Ω": "Omega", "ϕ": "phi", "ϑ": "theta",
    "µ": "mu", "ϵ": "epsilon", "ϱ": "rho", "ς": "sigma", "ħ": "hbar", "ℏ": "hbar",
}  # fmt: skip
CONSTANTS = {"pi": "pi", "π": "pi", "euler_gamma": "euler_gamma", "catalan": "catalan"}
BOUNDS = {"inf": "inf", "∞": "inf", "undefined": "undefined"}
SAME_FUNCTION = {"log": "ln", "arcsin": "asin", "arccos": "acos", "arctan": "atan"}
SUPERSCRIPTS = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻", "0123456789+-")
SUBSCRIPTS = dict(zip("₀₁₂₃₄₅₆₇₈₉ₐₑₕᵢⱼₖₗₘₙₒₚᵣₛₜᵤᵥₓ", "0123456789aehijklmnoprstuvx", strict=True))
SUBSCRIBED = re.compile(f"_?([{''.join(SUBSCRIPTS)}]+)")
PRIME_MARKS = {"″": 2, "‴": 3}  # the other signs are one prime each
DIVIDED = ("/", "÷")


def fraction_of(sign: str) -> str:
    """`1/2` for the sign ½; empty for other signs."""
    return unicodedata.normalize("NFKC", sign).replace("\u2044", "/") if "VULGAR FRACTION" in unicodedata.name(sign, "") else ""


def plain_name(text: str) -> str:
    """A name with its Greek letters and lowered signs spelt out: θ₁ is theta_1, Δx is Delta_x; slanted and wide letters are plain ones."""
    if text.isascii():
        return text
    text = SUBSCRIBED.sub(lambda m: "_" + "".join(SUBSCRIPTS[c] for c in m.group(1)), text)
    text = unicodedata.normalize("NFC", text)
    text = "".join(unicodedata.normalize("NFKC", c) if c.isalpha() else c for c in text)
    out: list[str] = []
    for place, letter in enumerate(text):
        spelt = GREEK.get(letter)
        if spelt is None:
            out.append(letter)
            continue
        if place and out[-1] != "_":
            out.append("_")
        out.append(spelt)
        if place + 1 < len(text) and text[place + 1] not in "_0123456789":
            out.append("_")
    return "".join(out)
