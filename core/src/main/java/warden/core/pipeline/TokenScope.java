package warden.core.pipeline;

/**
 * A right of the pipeline's own token on the repository's host.
 *
 * @param job the job that it is given to; empty for all
 * @param scope what it is about, as the host spells it: {@code contents}; {@code *} for everything
 * @param writes true for writing, false for reading
 * @param line counted from 1
 */
public record TokenScope(String job, String scope, boolean writes, int line) {}
