package warden.report;

import java.util.List;
import warden.core.aws.trim.Trimmed;
import warden.core.pipeline.Needed;
import warden.core.site.Site;

/** Needed, granted, missing and excess permissions as JSON, after {@code docs/schema/trim.schema.json}. */
public final class TrimJson {
    private TrimJson() {}

    /** Returns the document. */
    public static String of(List<Trimmed> credentials) {
        return Json.document(json -> json.objects("credentials", credentials, each -> credential(json, each)));
    }

    private static void credential(Json json, Trimmed trimmed) {
        json.text("credential", trimmed.called())
                .texts(
                        "sites",
                        trimmed.publisher().sites().stream().map(Site::name).toList())
                .objects("needed", trimmed.needed(), need -> needed(json, need)
                        .text("evidence", need.evidence().word()))
                .objects("missing", trimmed.missing(), need -> needed(json, need))
                .object("excess", () -> json.number(
                                "actions", trimmed.excess().all().size())
                        .texts("services", List.copyOf(trimmed.excess().services()))
                        .objects("worst", trimmed.worst(), worst -> json.text("action", worst.action())
                                .text("on", worst.on())
                                .text("why", worst.why())))
                .object("granted", () -> json.number(
                                "actions", trimmed.granted().size())
                        .texts("services", List.copyOf(trimmed.services())));
        if (!trimmed.open().isEmpty()) {
            json.objects("open", trimmed.open(), open -> json.text(
                            "step", open.step().pipeline().place(open.step().step()))
                    .text("command", open.step().step().command())
                    .text("why", open.why()));
        }
        if (!trimmed.unread().isEmpty()) {
            json.needs(trimmed.unread());
        }
        json.part("policy", trimmed.policy().json());
        trimmed.trust().ifPresent(trust -> json.part("trust", trust.json()));
        json.object("proof", () -> {
            json.truth("coversNeeded", trimmed.proof().coversNeeded())
                    .truth("withinNeeded", trimmed.proof().withinNeeded());
            if (!trimmed.proof().stillRefused().isEmpty()) {
                json.objects("stillRefused", trimmed.proof().stillRefused(), need -> needed(json, need));
            }
        });
    }

    private static Json needed(Json json, Needed needed) {
        return json.text("action", needed.action()).text("on", needed.on()).text("why", needed.why());
    }
}
