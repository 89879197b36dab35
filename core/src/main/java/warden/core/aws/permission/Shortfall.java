package warden.core.aws.permission;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Decision;
import warden.core.algebra.Glob;
import warden.core.algebra.Language;
import warden.core.aws.policy.ContextValue;
import warden.core.pipeline.Needed;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * What publishing needs and the credential is not allowed.
 *
 * @param missing what is refused, for some resource that is needed
 * @param because what the refusals rest on
 * @param needs what would settle the permissions that could go either way
 */
public record Shortfall(List<Needed> missing, List<Citation> because, List<Need> needs) {
    public Shortfall {
        missing = List.copyOf(missing);
        because = because.stream().distinct().toList();
        needs = needs.stream().distinct().toList();
    }

    /** Compares what is needed with what is allowed, for the plainest resource of each need and for one that no grant reaches. */
    public static Shortfall of(EffectivePermissions permissions, List<Needed> needed) {
        List<Needed> missing = new ArrayList<>();
        List<Citation> because = new ArrayList<>();
        List<Need> needs = new ArrayList<>();
        for (Needed each : needed) {
            for (String resource : samples(permissions, each)) {
                Decision decision = permissions.asDeployment(each.action(), resource, carried(each));
                if (decision.outcome() == Decision.Outcome.DENY) {
                    missing.add(each);
                    because.addAll(decision.because());
                    break;
                }
                if (decision.outcome() == Decision.Outcome.UNKNOWN) {
                    needs.addAll(decision.needs().isEmpty() ? List.of(open(permissions, decision)) : decision.needs());
                }
            }
        }
        return new Shortfall(missing, because, needs);
    }

    /** The headers of an upload that policies ask for. */
    private static final List<String> UPLOAD_HEADERS = List.of(
            "s3:x-amz-server-side-encryption", "s3:x-amz-server-side-encryption-aws-kms-key-id", "s3:x-amz-acl");

    /** Returns what the request carries; where nothing tells, the headers that policies ask for may be anything. */
    private static Map<String, ContextValue> carried(Needed needed) {
        Map<String, ContextValue> carried = new HashMap<>();
        needed.carries()
                .ifPresentOrElse(
                        headers -> headers.forEach((key, value) -> carried.put(key, ContextValue.Known.of(value))),
                        () -> UPLOAD_HEADERS.forEach(key -> carried.put(key, ContextValue.UNKNOWN)));
        return carried;
    }

    private static Need open(EffectivePermissions permissions, Decision decision) {
        return new Need(
                permissions.principal().aspect(), permissions.principal().arn().toString(), decision.says(), "");
    }

    /** Returns resources to try: one that reads well, and one that the credential's own policies leave out, if there is any. */
    static List<String> samples(EffectivePermissions permissions, Needed needed) {
        Set<String> samples = new LinkedHashSet<>();
        Language wanted = Language.matching(Glob.parse(needed.on()));
        samples.add(
                needed.on().endsWith("*") && needed.on().length() > 1
                        ? needed.on().substring(0, needed.on().length() - 1) + "index.html"
                        : needed.on());
        Optional<String> leftOut =
                wanted.minus(permissions.granted(needed.action()).possible()).witness();
        leftOut.filter(resource -> !resource.endsWith("/")).ifPresent(samples::add);
        return List.copyOf(samples);
    }
}
