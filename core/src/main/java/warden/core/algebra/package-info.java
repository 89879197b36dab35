/**
 * Sets: languages of texts, ranges, and sets of requests as unions of boxes over them, with the operations of a textbook. Knows no policy.
 * Who may enter: the rooms that reason about all requests at once, and those that match patterns. It enters no other room.
 */
@NullMarked
package warden.core.algebra;

import org.jspecify.annotations.NullMarked;
