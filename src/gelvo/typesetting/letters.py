"""Greek letters and other signs by name, for every output; LaTeX calls them the same."""

LETTERS = {
    "alpha": "α", "beta": "β", "gamma": "γ", "delta": "δ", "epsilon": "ε", "zeta": "ζ", "eta": "η", "theta": "θ",
    "iota": "ι", "kappa": "κ", "lambda": "λ", "mu": "μ", "nu": "ν", "xi": "ξ", "omicron": "ο", "rho": "ρ", "sigma": "σ",
    "tau": "τ", "upsilon": "υ", "phi": "φ", "chi": "χ", "psi": "ψ", "omega": "ω", "Gamma": "Γ", "Delta": "Δ",
    "Theta": "Θ", "Lambda": "Λ", "Xi": "Ξ", "Pi": "Π", "Sigma": "Σ", "Phi": "Φ", "Psi": "Ψ", "Omega": "Ω",
    "hbar": "ħ", "ell": "ℓ",
}  # fmt: skip
LINE = "line"  # over what is conjugated
MARKS = {
    "dot": "˙",
    "ddot": "¨",
    "dddot": "⋯",
    "hat": "^",
    "bar": "‾",
    "tilde": "~",
    "vec": "→",
}  # what stands above a letter: x_hat, vec_v
DOTS = ("dot", "ddot", "dddot")  # of derivatives by time
ABOVE = {**MARKS, LINE: "‾"}
