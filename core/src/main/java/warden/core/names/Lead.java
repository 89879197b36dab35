package warden.core.names;

/**
 * Where one record of a host leads in the end.
 *
 * @param host the host that was asked for
 * @param record the record that answers for it
 * @param target the last name of the chain, in lower case
 */
public record Lead(String host, HostRecord record, String target) {}
