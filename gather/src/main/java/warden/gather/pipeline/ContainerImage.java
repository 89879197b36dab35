package warden.gather.pipeline;

/**
 * A container's image that runs a client of storage.
 *
 * @param program the client that the container's words are told to
 * @param folder where the image's program works unless it is told otherwise, as the container sees it
 */
public record ContainerImage(String program, String folder) {}
