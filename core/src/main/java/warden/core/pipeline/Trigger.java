package warden.core.pipeline;

/**
 * What starts a pipeline.
 *
 * @param event the event's name as the host spells it: {@code push}, {@code pull_request_target}
 * @param line counted from 1
 */
public record Trigger(String event, int line) {}
