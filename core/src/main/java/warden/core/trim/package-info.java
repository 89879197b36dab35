/**
 * What credentials were seen to use. What is made of it is the provider's. Who may enter: trim of each provider and the command line. It
 * enters pipelines.
 */
@NullMarked
package warden.core.trim;

import org.jspecify.annotations.NullMarked;
