package warden.core.aws.trace;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import warden.core.aws.policy.Context;
import warden.core.aws.policy.ContextValue;
import warden.core.aws.policy.ContextValue.Known;
import warden.core.trace.Visit;

/** What a visitor's request carries when it comes to a bucket. */
final class VisitContext {
    private VisitContext() {}

    /** Returns the condition keys of a request that comes to the bucket; what the survey cannot tell is unknown. */
    static Context of(Visit visit, Optional<Boolean> secure, Map<String, ContextValue> more) {
        Map<String, ContextValue> values = new HashMap<>();
        values.put(
                "aws:SecureTransport",
                secure.<ContextValue>map(on -> Known.of(on.toString())).orElse(ContextValue.UNKNOWN));
        values.put("aws:SourceIp", ContextValue.UNKNOWN);
        values.put("aws:UserAgent", ContextValue.UNKNOWN);
        values.put("aws:CurrentTime", Known.of(visit.at().toString()));
        values.put("aws:EpochTime", Known.of(Long.toString(visit.at().getEpochSecond())));
        values.put("s3:TlsVersion", ContextValue.UNKNOWN);
        values.putAll(more);
        return Context.given(values);
    }
}
