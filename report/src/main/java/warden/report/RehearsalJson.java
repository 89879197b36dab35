package warden.report;

import java.util.List;
import java.util.Map;
import warden.core.pipeline.Needed;
import warden.core.rehearse.Rehearsal;
import warden.core.rehearse.StorageChanges;

/** A rehearsal as JSON after {@code docs/schema/rehearsal.schema.json}. */
public final class RehearsalJson {
    private RehearsalJson() {}

    public static String of(Rehearsal rehearsal) {
        return Json.document(json -> {
            json.number("rehearsal", 1);
            json.text("as", rehearsal.as());
            json.texts("command", rehearsal.command());
            if (rehearsal.ended().isPresent()) {
                json.number("ended", rehearsal.ended().getAsInt());
            }
            json.truth("works", rehearsal.works())
                    .truth("proof", rehearsal.isProof())
                    .truth("keptGoing", rehearsal.isLenient());
            json.number("calls", rehearsal.uses().calls());
            json.number("refusedCalls", rehearsal.uses().refusedCalls());
            json.objects("refused", rehearsal.uses().refusals(), each -> {
                json.text("action", each.action()).text("on", each.on());
                json.number("call", each.call());
                json.text("operation", each.operation());
                json.number("times", each.times());
                json.text("says", each.says());
            });
            json.text("proposal", rehearsal.proposal());
            json.objects("needed", rehearsal.needed(), each -> needed(json, each));
            counts(json, "notSimulated", "call", rehearsal.uses().notSimulated());
            json.texts("unused", rehearsal.unused());
            json.texts("unusedWorst", rehearsal.worst());
            json.objects("changes", rehearsal.changes().changes(), each -> change(json, each));
            json.objects("notable", rehearsal.notable(), each -> {
                change(json, each.change());
                json.text("why", each.why());
            });
            json.objects("visits", rehearsal.visits(), each -> {
                json.text("url", each.url());
                json.object("old", () -> json.outcome(each.old()));
                json.object("new", () -> json.outcome(each.now()));
                json.truth("worse", each.isWorse());
            });
            json.texts("unread", rehearsal.unread());
            json.texts("invalidated", rehearsal.invalidated());
            json.texts("notInvalidated", rehearsal.stale());
            counts(json, "refusedHosts", "host", rehearsal.refusedHosts());
            json.number("lateCalls", rehearsal.late());
        });
    }

    private static void needed(Json json, Needed needed) {
        json.text("action", needed.action()).text("on", needed.on()).text("why", needed.why());
    }

    private static void change(Json json, StorageChanges.Change change) {
        json.text("store", change.store())
                .text("key", change.key())
                .text("change", change.kind().word());
    }

    private static void counts(Json json, String name, String what, Map<String, Integer> counts) {
        json.objects(name, List.copyOf(counts.entrySet()), each -> {
            json.text(what, each.getKey());
            json.number("times", each.getValue());
        });
    }
}
