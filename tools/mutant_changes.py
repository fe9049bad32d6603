"""Every single change of a file that a test should notice.

Two kinds. `VALUES` is what mutmut knows: another number, text, comparison, argument. `LEFT_OUT` is
what it does not: a condition that always or never holds, one side of it, a filter, a statement, an
order, a call in a chain, one end of a range. Unlike mutmut this goes into decorated functions as
well, which are all of the API's: each change is a whole file of its own here.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

import libcst as cst
from libcst.metadata import MetadataWrapper
from mutmut.mutation.file_mutation import Mutation, MutationVisitor
from mutmut.mutation.mutators import mutation_operators as VALUES
from mutmut.mutation.pragma_handling import IgnoredCode

#: Calls in a chain that narrow or order what comes out of it, or hold it still.
NARROWING = frozenset(
    {"filter", "exclude", "order_by", "distinct", "select_for_update", "strip", "copy", "lower"}
)
#: Calls of which the first argument alone is something of the same kind.
PICKING = frozenset({"max", "min", "sorted", "reversed", "abs", "round", "int"})


def _test(node: cst.If) -> Iterable[cst.If]:
    yield node.with_changes(test=cst.Name("True"))
    yield node.with_changes(test=cst.Name("False"))


def _in_place(whole: Any, part: Any) -> Any:
    """The part instead of the whole, within the whole's brackets: it may go on over lines."""
    return part.with_changes(lpar=[*whole.lpar, *part.lpar], rpar=[*part.rpar, *whole.rpar])


def _one_side(node: cst.BooleanOperation) -> Iterable[cst.BaseExpression]:
    yield _in_place(node, node.left)
    yield _in_place(node, node.right)


def _one_end(node: cst.Comparison) -> Iterable[cst.Comparison]:
    if len(node.comparisons) == 2:
        first, second = node.comparisons
        yield node.with_changes(comparisons=[first])
        yield cst.Comparison(left=first.comparator, comparisons=[second])


def _no_filter(node: cst.CompFor) -> Iterable[cst.CompFor]:
    for left_out in node.ifs:
        yield node.with_changes(ifs=[one for one in node.ifs if one is not left_out])


def _statement(node: cst.Expr) -> Iterable[cst.Pass]:
    """A call for what it does; a text that says what a file or function is does nothing."""
    if isinstance(node.value, cst.Call):
        yield cst.Pass()


def _loop(node: cst.For) -> Iterable[cst.For]:
    yield node.with_changes(iter=cst.Tuple([]))


def _call(node: cst.Call) -> Iterable[cst.BaseExpression]:
    if isinstance(node.func, cst.Attribute) and node.func.attr.value in NARROWING:
        yield _in_place(node, node.func.value)
    if isinstance(node.func, cst.Name) and node.func.value in PICKING:
        for one in node.args[:2]:
            if one.keyword is None and not one.star:
                yield one.value.with_changes(lpar=[cst.LeftParen()], rpar=[cst.RightParen()])


def _part(node: cst.Subscript) -> Iterable[cst.BaseExpression]:
    if len(node.slice) == 1 and isinstance(node.slice[0].slice, cst.Slice):
        yield _in_place(node, node.value)


LEFT_OUT: Sequence[tuple[Any, Any]] = [
    (cst.If, _test),
    (cst.BooleanOperation, _one_side),
    (cst.Comparison, _one_end),
    (cst.CompFor, _no_filter),
    (cst.Expr, _statement),
    (cst.For, _loop),
    (cst.Call, _call),
    (cst.Subscript, _part),
]
KINDS: dict[str, Sequence[tuple[Any, Any]]] = {
    "values": VALUES,
    "left-out": LEFT_OUT,
    "both": [*VALUES, *LEFT_OUT],
}


class _Everywhere(MutationVisitor):
    """Also inside decorated functions, but not their decorators."""

    def _skip_node_and_children(self, node: cst.CSTNode) -> bool:
        if isinstance(node, cst.FunctionDef) and node.decorators:
            return False
        return super()._skip_node_and_children(node)


def changes_of(code: str, kind: str, lines: set[int]) -> tuple[cst.Module, list[Mutation]]:
    """The parsed file, and every change of a kind on these of its lines."""
    wrapper = MetadataWrapper(cst.parse_module(code))
    visitor = _Everywhere(list(KINDS[kind]), IgnoredCode(set(), set(), set()), lines)
    module = wrapper.visit(visitor)
    return module, visitor.mutations
