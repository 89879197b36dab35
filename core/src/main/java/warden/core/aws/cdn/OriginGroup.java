package warden.core.aws.cdn;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.document.JsonPart;
import warden.core.document.Pointer;

/**
 * Origins of which the second is asked where the first fails. Source: CloudFront API Reference, OriginGroup; CloudFront Developer Guide, "Optimize high
 * availability with CloudFront origin failover".
 *
 * @param members the ids of its origins, the first first
 * @param failing the statuses of the first origin with which it counts as failed
 */
public record OriginGroup(Pointer at, String id, List<String> members, Set<Integer> failing) {
    /** The methods for which the second origin is asked. */
    private static final Set<String> FAILED_OVER = Set.of("GET", "HEAD", "OPTIONS");

    private static final int SERVER_ERRORS = 500;

    public OriginGroup {
        members = List.copyOf(members);
        failing = Set.copyOf(failing);
    }

    static OriginGroup parse(JsonPart part) {
        return new OriginGroup(
                part.at(),
                part.text("Id").orElse(""),
                part.list("Members", "Items").stream()
                        .flatMap(member -> member.text("OriginId").stream())
                        .toList(),
                part.texts("FailoverCriteria", "StatusCodes", "Items").stream()
                        .filter(code -> code.matches("[0-9]{3}"))
                        .map(Integer::valueOf)
                        .collect(Collectors.toSet()));
    }

    /** True when the second origin is asked after the first answered so. */
    public boolean failsOver(String method, int status) {
        return FAILED_OVER.contains(method) && failing.contains(status);
    }

    /** True when a status may be the edge's own, for an origin that it cannot reach. */
    public static boolean mayBeTheEdges(int status) {
        return status >= SERVER_ERRORS;
    }

    /**
     * True when the status may be the edge's own, for an origin that cannot be reached: for that the second origin is asked where some error of servers
     * counts as failed, and which one it has to be is not told for each cause.
     */
    public boolean mayFailOver(String method, int status) {
        return FAILED_OVER.contains(method)
                && mayBeTheEdges(status)
                && failing.stream().anyMatch(OriginGroup::mayBeTheEdges);
    }
}
