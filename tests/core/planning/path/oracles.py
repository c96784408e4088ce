"""Slow and sure ways to the best hair path, for judging the fast one."""

from itertools import product

import numpy as np
from scipy.optimize import minimize

from pathway.core.planning.path.problem import Path, PathProblem
from pathway.core.planning.wishes import Link

STARTS = 2  # tries of the continuous search for each pattern


def brute_force(problem: PathProblem, seed: int = 0) -> float:
    """Return the least cost over every pattern of directions and links, places found by a general minimiser."""
    count = len(problem)
    best = np.inf
    chance = np.random.default_rng(seed)
    for first in (1, -1):
        for links in product((Link.CHANGE, Link.HOOK, Link.RETAKE), repeat=count - 1):
            back = np.where(problem.returns, -1, 1)
            turns = [(1 if link is Link.HOOK else -1) * int(back[k]) for k, link in enumerate(links)]
            for flips in product((1, -1), repeat=sum(link is Link.RETAKE for link in links)):
                directions, turned = [first], iter(flips)
                for link, turn in zip(links, turns, strict=True):
                    directions.append(directions[-1] * (next(turned) if link is Link.RETAKE else turn))
                ways, chain = np.array(directions), np.array([Link.FIRST, *links])
                if _fixed(problem, ways, chain) < best:  # no term is negative: it cannot win otherwise
                    best = min(best, _least(problem, ways, chain, chance))
    return float(best)


def _fixed(problem: PathProblem, directions: np.ndarray, links: np.ndarray) -> float:
    """Return what a pattern costs wherever its strokes lie."""
    costs = np.where(directions > 0, problem.direction_costs[:, 0], problem.direction_costs[:, 1])
    costs = costs + np.where(links == Link.HOOK, problem.hook, 0) + np.where(links == Link.RETAKE, problem.retake, 0)
    return float(costs.sum())


def _least(problem: PathProblem, directions: np.ndarray, links: np.ndarray, chance: np.random.Generator) -> float:
    """Minimise over the places of one pattern; a path that leaves the hair or runs backwards costs a lot."""
    own = links != Link.HOOK
    own &= links != Link.CHANGE

    def path_of(values: np.ndarray) -> Path:
        lengths = np.exp(values[: len(problem)])
        starts, ends, free = np.zeros(len(problem)), np.zeros(len(problem)), iter(values[len(problem) :])
        for k in range(len(problem)):
            starts[k] = next(free) if own[k] else (starts if problem.returns[k - 1] else ends)[k - 1]
            ends[k] = starts[k] + directions[k] * lengths[k]
        return Path(directions, starts, ends, links)

    def cost(values: np.ndarray) -> float:
        path = path_of(values)
        places = np.concatenate([path.starts, path.ends])
        out = np.clip(problem.low - places, 0, None) + np.clip(places - problem.high, 0, None)
        return problem.total(path) + 1e5 * float((out**2).sum())

    best = np.inf
    wanted = np.log(problem.preferred * problem.each)
    for _ in range(STARTS):
        free = chance.uniform(problem.low, problem.high, int(own.sum()))
        limits = [(-6.0, 0.0)] * len(problem) + [(problem.low, problem.high)] * len(free)
        found = minimize(cost, np.concatenate([wanted, free]), method="L-BFGS-B", bounds=limits)
        best = min(best, float(found.fun))
    return best
