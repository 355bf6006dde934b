"""Two tuning forks beat: the sum as a product, proved equal, drawn with its envelope."""

import gelvo as gv

total = gv.formula("cos(w_1*t) + cos(w_2*t)")
product = gv.formula("2*cos((w_1 + w_2)*t/2)*cos((w_1 - w_2)*t/2)")
print("equal:", gv.equal(total, product))
envelope = gv.formula("2*abs(cos((w_1 - w_2)*t/2))")
figure = gv.plot([total, envelope], "t", 0, 4, values={"w_1": 40, "w_2": 43}, labels=["forks", "envelope"], units={"t": "s"})
print("curves drawn:", len(figure.axes[0].lines))
print(gv.typeset(product, "text"))
