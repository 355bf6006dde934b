"""Walking through formulas without recursion: every distinct node is met once."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterable, Iterator, Mapping, Set
from typing import Any, TypeVar, cast

from gelvo.deadline import checkpoint
from gelvo.errors import DomainError
from gelvo.expression import building
from gelvo.expression.nodes import (
    Applied,
    Call,
    Cases,
    Condition,
    Expression,
    Junction,
    Name,
    Node,
    Number,
    Power,
    Product,
    Relation,
    Sum,
    Truth,
    Written,
)
from gelvo.numbers.exact import Gaussian

R = TypeVar("R")
T = TypeVar("T", bound=Node)  # a formula stays a formula, a condition a condition
K = TypeVar("K", bound=Node)
Rules = Mapping[type[Node], Callable[[Any, dict[Node, R]], R]]  # each kind of node -> the rule that takes nodes of that kind


def postorder(*roots: Node) -> list[Node]:
    """All distinct nodes, children before their parents, left before right."""
    checkpoint()
    seen: set[Node] = set()
    result: list[Node] = []
    stack: list[Node | None] = []
    path: list[Node] = []
    for root in roots:
        stack.append(root)
        while stack:
            node = stack.pop()
            if node is None:
                result.append(path.pop())
                continue
            if node in seen:
                continue
            seen.add(node)
            children = node.children
            if not children:
                result.append(node)
                continue
            if not len(result) & 63:
                checkpoint()
            path.append(node)
            stack.append(None)
            stack.extend(reversed(children))
    return result


def structure(*roots: Node) -> list[str]:
    """One line for each distinct part, which names its own parts by their lines: the same for the same formulas in any process.

    >>> from gelvo.expression.building import name
    >>> structure(2 * name("x"))
    ['Name x real', 'Product 2 [0]']
    """
    line: dict[Node, int] = {}

    def told(part: object) -> str:
        if isinstance(part, Node):
            return str(line[part])
        if isinstance(part, tuple):
            return f"[{' '.join(map(told, part))}]"
        return str(getattr(part, "name", part))

    lines = []
    for node in postorder(*roots):
        lines.append(" ".join((type(node).__name__, *[told(getattr(node, field)) for field in node.fields])))
        line[node] = len(line)
    return lines


def fold(root: Node, rules: Rules[R]) -> R:
    """What the rules of the kinds of nodes make of a formula, from the leaves up: each gets its node and what its parts became."""
    done: dict[Node, R] = {}
    for node in postorder(root):
        checkpoint()
        done[node] = rules[type(node)](node, done)
    return done[root]


def rebuild(node: T, children: tuple[Node, ...]) -> T:
    """The node of the same kind over other children, in canonical form."""
    return cast(T, _REBUILD[type(node)](node, children))


def _rebuild_sum(node: Sum, children: tuple[Expression, ...]) -> Expression:
    terms = [building.scale(c, k) for c, k in zip(children, node.coefficients, strict=True)]
    terms.append(building.number(node.constant))
    return building.total(terms)


def _rebuild_product(node: Product, children: tuple[Expression, ...]) -> Expression:
    return building.multiply_all((building.number(node.coefficient), *children))


def _rebuild_cases(node: Cases, children: tuple[Node, ...]) -> Expression:
    count = len(node.values)
    values, conditions = children[:count], cast(tuple[Condition, ...], children[count:])
    return building.cases(list(zip(values[:-1], conditions, strict=True)), values[-1])


_REBUILD: dict[type, Callable[[Any, tuple[Any, ...]], Any]] = {
    Sum: _rebuild_sum,
    Product: _rebuild_product,
    Power: lambda node, c: building.power(c[0], c[1]),
    Call: lambda node, c: building.called(node.function, c),
    Applied: lambda node, c: building.applied(node.name, c, node.orders),
    Written: lambda node, c: building.written(node.kind, *c),
    Cases: _rebuild_cases,
    Relation: lambda node, c: building.relation(node.operator, c[0], c[1]),
    Junction: lambda node, c: building.junction(node.word, c),
}


def transform(root: T, visit: Callable[[Node], Node]) -> T:
    """Rebuilds a formula from the leaves up; `visit` sees each rebuilt node and may replace it."""
    done: dict[Node, Node] = {}
    for node in postorder(root):
        children = node.children
        if children:
            new = tuple([done[c] for c in children])
            changed = any(a is not b for a, b in zip(new, children, strict=True))
            done[node] = visit(rebuild(node, new) if changed else node)
        else:
            done[node] = visit(node)
    return cast(T, done[root])


def names(*roots: Node) -> list[Name]:
    """The distinct names inside, sorted by name."""
    found = {node for root in roots for node in postorder(root) if isinstance(node, Name)}
    return sorted(found, key=lambda n: (n.name, n.domain))


def zeros_in(*formulas: Node) -> list[Written]:
    """The zeros without closed form in formulas, inner ones first."""
    return [n for n in postorder(*formulas) if isinstance(n, Written) and n.kind == "root_of"]


def free_names(root: Node) -> list[Name]:
    """The names on which the value depends: bound variables of sums, integrals and limits are left out."""
    if not any(isinstance(n, Written) and n.binds for n in postorder(root)):
        return names(root)
    free: dict[Node, frozenset[Name]] = {}
    for node in postorder(root):
        if isinstance(node, Name):
            free[node] = frozenset((node,))
        elif isinstance(node, Written) and node.binds:
            rest: frozenset[Name] = frozenset().union(*[free[c] for c in node.arguments[2:]])
            free[node] = (free[node.body] - {node.variable}) | rest
        else:
            free[node] = frozenset().union(*[free[c] for c in node.children])
    return sorted(free[root], key=lambda n: (n.name, n.domain))


def appearing(*roots: Node) -> list[Name]:
    """The free names of several formulas in the order of their first appearance."""
    found: dict[Name, None] = {}
    for root in roots:
        free = set(free_names(root))
        found.update(dict.fromkeys(n for n in postorder(root) if isinstance(n, Name) and n in free))
    return list(found)


def contains(root: Node, part: Node) -> bool:
    """Whether a node occurs inside."""
    return root is part or any(node is part for node in postorder(root))


def has_call(root: Node, kinds: Container[str], variable: Node | None = None) -> bool:
    """Whether a function of these names stands in a formula; of a variable, where one is named."""
    found = (n for n in postorder(root) if isinstance(n, Call) and n.name in kinds)
    return any(variable is None or contains(n, variable) for n in found)


def dependents(root: Node, variable: Node) -> set[Node]:
    """The distinct nodes inside that contain a node."""
    found: set[Node] = set()
    for node in postorder(root):
        if node is variable or any(c in found for c in node.children):
            found.add(node)
    return found


def distinct_nodes(root: Node) -> int:
    """How many distinct nodes a formula has."""
    return len(postorder(root))


def tree_size(root: Node) -> int:
    """How many nodes the formula has when written out in full; exact, however large."""
    size: dict[Node, int] = {}
    for node in postorder(root):
        size[node] = 1 + sum(size[c] for c in node.children)
    return size[root]


def depth(root: Node) -> int:
    """The length of the longest path from the formula to a leaf."""
    return root.depth + 1


def substitute(root: T, table: Mapping[K, Expression]) -> T:
    """Replaces parts by others, all at once; bound variables are kept apart from what comes in.

    >>> from gelvo.expression.building import name
    >>> x, y = name("x"), name("y")
    >>> print(substitute(x + 2*y, {x: y, y: x}))
    2*x + y
    """
    changes: dict[Node, Expression] = {old: new for old, new in table.items() if old is not new}
    if not changes:
        return root
    nodes = postorder(root)
    if any(isinstance(n, Cases) for n in nodes):
        root = _cases_chosen(root, changes)
        nodes = postorder(root)
    if any(isinstance(n, Written) and n.binds for n in nodes):
        return _substitute_with_bound(root, changes)
    done: dict[Node, Node] = {}
    for node in nodes:
        replacement = changes.get(node)
        if replacement is not None:
            done[node] = replacement
            continue
        children = node.children
        new = tuple([done[c] for c in children])
        if isinstance(node, Written) and not isinstance(new[1], Name):
            raise _variable_replaced(node)
        elif any(a is not b for a, b in zip(new, children, strict=True)):
            done[node] = rebuild(node, new)
        else:
            done[node] = node
    return cast(T, done[root])


def _cases_chosen(root: T, changes: dict[Node, Expression]) -> T:
    """Cases that the replacement decides, by their branch alone: another one may have no value there."""
    chosen: dict[Node, Node] = {}
    for node in postorder(root):
        if not isinstance(node, Cases) or node in changes:
            continue
        conditions = [substitute(c, changes) for c in node.conditions]
        if any(isinstance(c, Truth) for c in conditions):
            rows = zip(node.values, node.conditions, conditions, strict=False)
            kept = [(value, new if isinstance(new, Truth) else old) for value, old, new in rows]
            chosen[node] = building.cases(kept, node.otherwise)
    return _cases_chosen(substitute_plain(root, chosen), changes) if chosen else root


def _variable_replaced(node: Written) -> DomainError:
    return DomainError(
        f"{node.variable} in {node.kind}(…) is the variable of the operation: a value cannot be put in before it is carried out"
    )


def _substitute_with_bound(root: T, table: dict[Node, Expression]) -> T:
    """The same where bound variables occur: one scope a written form, kept on an explicit stack."""
    incoming = {n for new in table.values() for n in names(new)}
    scoped: dict[Written, Expression] = {}
    taken = {n.name for n in names(root)} | {n.name for n in incoming}
    for node in postorder(root):
        if isinstance(node, Written) and node.binds and node.variable in incoming:
            fresh = building.name(_fresh(node.variable.name, taken), node.variable.domain)
            taken.add(fresh.name)
            body = substitute_plain(node.body, {node.variable: fresh})
            scoped[node] = building.written(node.kind, body, fresh, *node.arguments[2:])
    if scoped:
        root = substitute_plain(root, scoped)
    done: dict[tuple[Node, frozenset[Name]], Node] = {}
    stack: list[tuple[Node, frozenset[Name], bool]] = [(root, frozenset(), False)]
    while stack:
        node, hidden, ready = stack.pop()
        if (node, hidden) in done:
            continue
        inner = hidden | {node.variable} if isinstance(node, Written) and node.binds else hidden
        scopes = [inner if inner is not hidden and i < 2 else hidden for i in range(len(node.children))]
        if not ready:
            replacement = table.get(node)
            if replacement is not None and not (hidden & set(names(node))):
                done[(node, hidden)] = replacement
                continue
            stack.append((node, hidden, True))
            stack.extend((c, s, False) for c, s in zip(node.children, scopes, strict=True))
            continue
        new = tuple([done[(c, s)] for c, s in zip(node.children, scopes, strict=True)])
        if isinstance(node, Written) and not isinstance(new[1], Name):
            raise _variable_replaced(node)
        else:
            done[(node, hidden)] = rebuild(node, new) if new else node
    return cast(T, done[(root, frozenset())])


def set_apart(root: T, free: Iterable[Node]) -> T:
    """Bound variables that are free names elsewhere in a call get names of their own.

    >>> from gelvo.expression.building import name, number, written
    >>> k = name("k")
    >>> print(set_apart(k + written("sum_of", k, k, number(1), number(3)), [k]))
    k + sum_of(k_1, k_1, 1, 3)
    """
    outside = set(free)

    def visit(node: Node) -> Node:
        if isinstance(node, Written) and node.binds and node.variable in outside:
            own = another_name(node.variable, root, *outside)
            return building.written(node.kind, substitute(node.body, {node.variable: own}), own, *node.arguments[2:])
        return node

    return transform(root, visit) if any(isinstance(n, Written) for n in postorder(root)) else root


def unified(*roots: T) -> tuple[T, ...]:
    """Sums, integrals and limits that differ only in the name of their bound variable become the same.

    >>> from gelvo.expression.building import name, number, written
    >>> forms = [written("sum_of", k**2, k, number(1), name("n")) for k in (name("k"), name("j"))]
    >>> print(*unified(*forms))
    sum_of(k^2, k, 1, n) sum_of(k^2, k, 1, n)
    """
    if not any(isinstance(n, Written) and n.binds for n in postorder(*roots)):
        return roots
    first: dict[Node, Node] = {}

    def visit(node: Node) -> Node:
        if not (isinstance(node, Written) and node.binds):
            return node
        place = building.name("bound variable", node.variable.domain)  # no name that text can spell
        pattern = building.written(node.kind, substitute(node.body, {node.variable: place}), place, *node.arguments[2:])
        return first.setdefault(pattern, node)

    return tuple([transform(root, visit) for root in roots])


def another_name(variable: Name, *roots: Node) -> Name:
    """A name of the same domain, made from a variable's, that does not occur in the given formulas."""
    taken = {n.name for n in names(*roots)} | {variable.name}
    return building.name(_fresh(variable.name, taken), variable.domain)


def bound_apart(f: Expression, x: Name, others: Iterable[Node]) -> tuple[Expression, Name]:
    """An integrand, term or formula and its variable, under another name where something outside speaks of that name:
    it means the outer one.

    >>> from gelvo.expression.building import name
    >>> x = name("x")
    >>> bound_apart(x**2, x, [x])
    (x_1^2, x_1)
    """
    listed = list(others)
    if not any(contains(e, x) for e in listed):
        return f, x
    own = another_name(x, f, *listed)
    return substitute(f, {x: own}), own


def substitute_plain(root: T, table: Mapping[K, Node]) -> T:
    """Substitution without regard to bound variables."""
    changes: dict[Node, Node] = dict(table.items())
    done: dict[Node, Node] = {}
    for node in postorder(root):
        replacement = changes.get(node)
        if replacement is not None:
            done[node] = replacement
        else:
            new = tuple([done[c] for c in node.children])
            done[node] = rebuild(node, new) if new and new != node.children else node
    return cast(T, done[root])


def _fresh(stem: str, taken: Set[str]) -> str:
    number = 1
    while f"{stem}_{number}" in taken:
        number += 1
    return f"{stem}_{number}"


def spelled_in(*roots: Node) -> set[str]:
    """The names of variables and of unknown functions, as they are written."""
    return {n.name for root in roots for n in postorder(root) if isinstance(n, Name | Applied)}


def fresh_name(stem: str, *roots: Node, avoiding: Set[str] = frozenset()) -> Name:
    """A name that does not occur in the given formulas, nor among others to be avoided.

    Where facts of a call are asked about it, `Facts.new_name` is the one to take: facts may speak of names that no formula has.
    """
    taken = spelled_in(*roots) | avoiding
    return building.name(stem if stem not in taken else _fresh(stem, taken))


def check_one_meaning(roots: Iterable[object]) -> None:
    """Two names of one spelling and different domains in one call are an error."""
    seen: dict[str, Name] = {}
    for node in names(*[r for r in roots if isinstance(r, Node)]):
        other = seen.setdefault(node.name, node)
        if other is not node:
            raise DomainError(
                f"the name {node.name} comes with two domains in one call, {other.domain} and {node.domain}: "
                "build all formulas of a call from the same variable"
            )


def relations_of(condition: Condition) -> Iterator[Relation]:
    """The relations that all hold when the condition holds."""
    stack = [condition]
    while stack:
        part = stack.pop()
        if isinstance(part, Relation):
            yield part
        elif isinstance(part, Junction) and part.word == "and":
            stack.extend(reversed(part.parts))


def is_not_real(node: Node) -> bool:
    """Whether a number that a part itself has, as a coefficient, is not real."""
    numbers: tuple[object, ...] = ()
    if isinstance(node, Number):
        numbers = (node.value,)
    elif isinstance(node, Sum):
        numbers = (node.constant, *node.coefficients)
    elif isinstance(node, Product):
        numbers = (node.coefficient,)
    return any(isinstance(c, Gaussian) for c in numbers)


def has_imaginary_unit(root: Node) -> bool:
    """Whether a number in a formula is not real."""
    return any(map(is_not_real, postorder(root)))
