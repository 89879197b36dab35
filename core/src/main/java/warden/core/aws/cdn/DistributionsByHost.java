package warden.core.aws.cdn;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The distributions of an account by the hosts that they answer for, so that finding one does not look at all. Immutable. */
public final class DistributionsByHost {
    private final Map<String, Distribution> exactly = new HashMap<>();
    private final Map<String, Distribution> byAlias = new HashMap<>();

    /** Makes an index of {@code distributions}; of several with the same name, the first counts. */
    public DistributionsByHost(List<Distribution> distributions) {
        for (Distribution distribution : distributions) {
            exactly.putIfAbsent(distribution.domain(), distribution);
            for (String alias : distribution.aliases()) {
                exactly.putIfAbsent(alias, distribution);
                byAlias.putIfAbsent(alias, distribution);
            }
        }
    }

    /** Returns the distribution that answers for the host; an alias that is the host itself goes before wildcards, longer ones first. */
    public Optional<Distribution> nearest(String host) {
        return Optional.ofNullable(exactly.get(host)).or(() -> byWildcard(host));
    }

    /** True when a distribution has the host among its aliases, or a wildcard that covers it. */
    public boolean lists(String host) {
        return byAlias.containsKey(host) || byWildcard(host).isPresent();
    }

    /** The nearer to the host a wildcard begins, the longer it is. */
    private Optional<Distribution> byWildcard(String host) {
        for (int dot = host.indexOf('.', 1); dot >= 0; dot = host.indexOf('.', dot + 1)) {
            Distribution distribution = byAlias.get("*" + host.substring(dot));
            if (distribution != null) {
                return Optional.of(distribution);
            }
        }
        return Optional.empty();
    }
}
