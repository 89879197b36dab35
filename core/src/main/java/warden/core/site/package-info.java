/**
 * What a site is, whoever holds it, and what its owner says of it. Who may enter: every room that speaks of sites. It enters the rooms
 * algebra, survey.
 */
@NullMarked
package warden.core.site;

import org.jspecify.annotations.NullMarked;
