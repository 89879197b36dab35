/**
 * Reads pipeline files into deployment steps with their places: forges, scripts and generic clients here, what is one provider's through
 * {@link warden.gather.pipeline.ProviderTools}. Nothing that a file says is run, fetched or followed. Who may enter: the command line and
 * the providers' tools. It enters the core's neutral rooms only.
 */
@NullMarked
package warden.gather.pipeline;

import org.jspecify.annotations.NullMarked;
