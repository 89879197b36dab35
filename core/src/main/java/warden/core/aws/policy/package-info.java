/**
 * The policy language: documents with positions, their parts, and whether one part matches one request. Decides
 * nothing about access; that is done next door, in decision. Who may enter: every room that reads policies. It enters documents and algebra.
 */
@NullMarked
package warden.core.aws.policy;

import org.jspecify.annotations.NullMarked;
