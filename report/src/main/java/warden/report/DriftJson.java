package warden.report;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.TreeMap;
import warden.core.access.Gain;
import warden.core.audit.Finding;
import warden.core.cloud.Changes.Allowed;
import warden.core.cloud.Changes.OfCredential;
import warden.core.cloud.Changes.Trusted;
import warden.core.drift.Drift;
import warden.core.survey.SurveyHeader;

/** What changed, as JSON after {@code docs/schema/drift.schema.json}. */
public final class DriftJson {
    private DriftJson() {}

    /**
     * Returns the document.
     *
     * @param worse whether something got worse, whatever is shown
     */
    public static String of(Drift drift, List<SurveyHeader> old, List<SurveyHeader> now, boolean worse) {
        return Json.document(json -> {
            json.number("drift", 1);
            json.objects("old", old, header -> survey(json, header));
            json.objects("new", now, header -> survey(json, header));
            json.objects("reach", drift.reach(), each -> {
                if (each.stores().size() == 1) {
                    json.text("bucket", each.stores().get(0));
                } else {
                    json.texts("buckets", each.stores());
                }
                json.text("who", each.who()).text("ability", each.ability().word());
                gain(json, "gained", each.gained());
                gain(json, "lost", each.lost());
            });
            json.objects("visits", drift.visits(), each -> {
                json.text("url", each.url());
                json.object("old", () -> json.outcome(each.old()));
                json.object("new", () -> json.outcome(each.now()));
                json.truth("worse", each.isWorse()).text("why", each.now().why());
            });
            json.objects("credentials", drift.credentials(), each -> credential(json, each));
            json.objects("names", drift.names(), each -> json.text("name", each.name())
                    .text("kind", each.kind().name().toLowerCase(Locale.ROOT))
                    .text("change", each.change().word())
                    .text("old", each.before())
                    .text("new", each.after()));
            json.object("findings", () -> {
                findings(json, "new", drift.findings().fresh());
                findings(json, "gone", drift.findings().gone());
                json.objects("changed", drift.findings().changed(), each -> {
                    json.object("finding", () -> finding(json, each.finding()));
                    json.text("from", each.from().word()).text("to", each.to().word());
                });
                findings(json, "form", drift.findings().form());
            });
            json.number("formOnly", drift.formOnly());
            json.objects("incomparable", drift.incomparable(), need -> json.text("subject", need.of())
                    .text("aspect", need.aspect())
                    .text("why", need.why()));
            json.truth("worse", worse);
        });
    }

    private static void survey(Json json, SurveyHeader header) {
        json.text("file", header.file())
                .text("provider", header.provider())
                .text("account", header.account())
                .text("takenAt", header.takenAt());
    }

    private static void gain(Json json, String name, Optional<Gain> gain) {
        if (gain.isEmpty()) {
            json.text(name, Optional.empty());
            return;
        }
        json.object(name, () -> json.text("extent", gain.get().extent().word())
                .texts("which", gain.get().which())
                .witness(Optional.of(gain.get().witness()))
                .because(gain.get().because()));
    }

    private static void credential(Json json, OfCredential each) {
        json.text("credential", each.credential())
                .text("is", each.presence().name().toLowerCase(Locale.ROOT))
                .truth("publishes", each.publishes());
        allowed(json, "gained", each.gained());
        allowed(json, "lost", each.lost());
        trusted(json, "trustGained", each.trustGained());
        trusted(json, "trustLost", each.trustLost());
    }

    private static void allowed(Json json, String name, List<Allowed> all) {
        json.objects(name, all, each -> json.text("action", each.action()).text("on", each.on()));
    }

    private static void trusted(Json json, String name, List<Trusted> all) {
        json.objects(name, all, each -> {
            json.text("who", each.who());
            json.object("claims", () -> new TreeMap<>(each.claims()).forEach(json::text));
            json.because(each.because());
        });
    }

    private static void findings(Json json, String name, List<Finding> all) {
        json.objects(name, all, each -> finding(json, each));
    }

    private static void finding(Json json, Finding each) {
        json.text("check", each.card().id())
                .text("severity", each.severity().word())
                .text("subject", each.subject())
                .text("site", each.site())
                .text("says", each.says())
                .because(each.because())
                .text("fingerprint", each.fingerprint());
    }
}
