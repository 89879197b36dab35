/**
 * What credentials were seen to use, and what is said of one that has more than it needs. What is made of it is the provider's. Who may
 * enter: trim of each provider and the command line. It enters the rooms document, pipeline, site, survey.
 */
@NullMarked
package warden.core.trim;

import org.jspecify.annotations.NullMarked;
