package warden.core.aws.policy;

import warden.core.document.Pointer;

/**
 * One reason why the provider would refuse a document.
 *
 * @param says a phrase that follows the place: "has both Action and NotAction; keep one of the two"
 * @param meaningLost true when the part cannot be given a meaning, so that decisions through it are unknown
 */
public record PolicyProblem(Pointer at, String says, boolean meaningLost) {}
