/**
 * Works out the smallest policy with which a publishing credential can still publish, and proves it. Who may enter: the command line and
 * reports. It enters pipeline, power, decision, policy, site, survey and algebra.
 */
@NullMarked
package warden.core.trim;

import org.jspecify.annotations.NullMarked;
