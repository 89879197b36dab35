package warden.core.rehearse;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalInt;
import warden.core.document.Json;
import warden.core.secret.SecretFinder;
import warden.core.survey.Citation;

/**
 * The record of a rehearsal as JSON Lines: a header, a line a call, and a trailer. A record without a trailer was interrupted. Secrets in what was typed
 * are blotted out.
 */
public final class RehearsalRecord {
    /** The version that headers name. */
    public static final int VERSION = 1;

    private RehearsalRecord() {}

    /**
     * Returns the header.
     *
     * @param at when it began, as RFC 3339
     * @param as the ARN of who is rehearsed
     */
    public static String header(String at, String as, String survey, List<String> command) {
        return Json.text(Json.object(
                "rehearsal",
                VERSION,
                "at",
                at,
                "as",
                as,
                "survey",
                survey,
                "command",
                command.stream().map(SecretFinder::masked).toList()));
    }

    /**
     * Returns the line of a call.
     *
     * @param number counted from 1
     * @param as the ARN of who is rehearsed; a line names its caller where it is another
     */
    public static String call(long number, String as, RehearsedCall call) {
        List<Map<String, Object>> needs = new ArrayList<>();
        boolean decided = call.needs().stream().anyMatch(need -> !need.because().isEmpty());
        call.needs().forEach(need -> needs.add(need(need)));
        Map<String, Object> line = new LinkedHashMap<>();
        line.put("n", number);
        line.put("at", call.at().toString());
        if (!call.who().equals(as)) {
            line.put("as", call.who());
        }
        line.put("service", call.service());
        line.put("operation", call.operation());
        line.put("needs", needs);
        line.put("answer", call.answer());
        line.put("allowed", call.isAllowed());
        if (!call.isSimulated()) {
            line.put("simulated", false);
        }
        if (decided) {
            line.put(
                    "because",
                    call.needs().stream()
                            .flatMap(need -> need.because().stream())
                            .distinct()
                            .map(RehearsalRecord::citation)
                            .toList());
        }
        if (!call.problem().isEmpty()) {
            line.put("problem", call.problem());
        }
        return Json.text(line);
    }

    private static Map<String, Object> need(RehearsedCall.Need need) {
        Map<String, Object> spelled = new LinkedHashMap<>();
        spelled.put("action", need.action());
        spelled.put("on", need.on());
        Map<String, Object> context = new LinkedHashMap<>();
        need.context().entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .forEach(key -> context.put(
                        key.getKey(),
                        key.getValue().size() == 1 ? key.getValue().get(0) : key.getValue()));
        spelled.put("context", context);
        if (!need.allowed()) {
            spelled.put("allowed", false);
            spelled.put("says", need.says());
        }
        return spelled;
    }

    private static Map<String, Object> citation(Citation citation) {
        return Json.object("aspect", citation.aspect(), "of", citation.subject(), "path", citation.path());
    }

    /** Returns the trailer; {@code ended} is empty for a command that was ended by a signal. */
    public static String trailer(OptionalInt ended, RehearsedUses uses) {
        return Json.text(Json.object(
                "ended",
                ended.isPresent() ? ended.getAsInt() : null,
                "calls",
                uses.calls(),
                "refused",
                uses.refusedCalls()));
    }
}
