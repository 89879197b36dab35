package warden.report;

import java.util.List;
import warden.core.pipeline.Needed;
import warden.core.site.Site;
import warden.core.trim.Trimming;

/** Needed, granted, missing and excess permissions as JSON, after {@code docs/schema/trim.schema.json}. */
public final class TrimJson {
    private TrimJson() {}

    /** Returns the document. */
    public static String of(List<? extends Trimming> credentials) {
        return Json.document(json -> json.objects("credentials", credentials, each -> credential(json, each)));
    }

    private static void credential(Json json, Trimming trimmed) {
        json.text("credential", trimmed.called())
                .texts("sites", trimmed.sites().stream().map(Site::name).toList())
                .objects("needed", trimmed.needed(), need -> needed(json, need)
                        .text("evidence", need.evidence().word()))
                .objects("missing", trimmed.missing(), need -> needed(json, need))
                .object("excess", () -> json.number("actions", trimmed.excessActions())
                        .texts("services", List.copyOf(trimmed.excessServices()))
                        .objects("worst", trimmed.worst(), worst -> json.text("action", worst.action())
                                .text("on", worst.on())
                                .text("why", worst.why())))
                .object("granted", () -> json.number("actions", trimmed.grantedActions())
                        .texts("services", List.copyOf(trimmed.services())));
        if (!trimmed.openSteps().isEmpty()) {
            json.objects("open", trimmed.openSteps(), open -> json.text("step", open.place())
                    .text("command", open.command())
                    .text("why", open.why()));
        }
        if (!trimmed.unread().isEmpty()) {
            json.needs(trimmed.unread());
        }
        json.part("policy", trimmed.proposal());
        trimmed.proposedTrust().ifPresent(trust -> json.part("trust", trust.json()));
        json.object("proof", () -> {
            json.truth("coversNeeded", trimmed.coversNeeded()).truth("withinNeeded", trimmed.withinNeeded());
            if (!trimmed.stillRefused().isEmpty()) {
                json.objects("stillRefused", trimmed.stillRefused(), need -> needed(json, need));
            }
        });
    }

    private static Json needed(Json json, Needed needed) {
        return json.text("action", needed.action()).text("on", needed.on()).text("why", needed.why());
    }
}
