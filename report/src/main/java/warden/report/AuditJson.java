package warden.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.Audit;
import warden.core.audit.Comparison;
import warden.core.audit.Finding;
import warden.core.audit.Judgement;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.site.SiteFile.Waiver;
import warden.core.site.SitePattern;
import warden.core.survey.Need;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyedAccount;

/** An audit as JSON, after {@code docs/schema/report.schema.json}. */
public final class AuditJson {
    private static final int VERSION = 1;

    private AuditJson() {}

    /** Returns the document. */
    public static String of(Audit audit, Judgement judgement) {
        return Json.document(json -> {
            json.number("report", VERSION).text("at", audit.context().at().toString());
            json.objects("survey", audit.context().accounts(), account -> survey(json, account));
            json.objects("sites", audit.sites(), site -> site(json, audit, site));
            json.objects("findings", audit.findings(), finding -> {
                finding(json, finding);
                judgement.since().ifPresent(since -> json.truth("new", since.isNew(finding)));
            });
            json.objects("unknown", audit.unknowns(), answer -> unknown(json, answer));
            List<Runnable> waived = new ArrayList<>();
            audit.waived()
                    .forEach(agreed -> waived.add(() -> {
                        finding(json, agreed.finding());
                        agreement(json, agreed.waiver());
                    }));
            audit.waivedUnknowns()
                    .forEach(agreed -> waived.add(() -> {
                        unknown(json, agreed.answer());
                        agreement(json, agreed.waiver());
                    }));
            json.objects("waived", waived, Runnable::run);
            judgement.since().ifPresent(since -> json.object("since", () -> since(json, audit, since)));
            json.object("counts", () -> {
                counts(json, audit, Optional.empty());
                json.number(
                        "waived", audit.waived().size() + audit.waivedUnknowns().size());
            });
        });
    }

    private static void agreement(Json json, Waiver waiver) {
        json.text("until", waiver.until().toString()).text("reason", waiver.reason());
    }

    private static void since(Json json, Audit audit, Comparison since) {
        long fresh = since.countNew(audit.findings());
        json.text("file", since.file())
                .number("new", fresh)
                .number("old", audit.findings().size() - fresh)
                .texts("gone", since.gone())
                .texts("unanswered", since.unanswered());
    }

    private static void survey(Json json, SurveyedAccount account) {
        SurveyHeader header = account.survey().header();
        json.text("file", header.file())
                .text("provider", header.provider())
                .text("account", header.account())
                .text("takenAt", header.takenAt());
    }

    private static void site(Json json, Audit audit, Site site) {
        List<String> credentials =
                audit.context().publishersOf(site).stream().map(Publisher::id).toList();
        json.text("name", site.name())
                .text("pattern", site.found().map(SitePattern::word))
                .text("meant", site.meant().map(SitePattern::word))
                .texts("hosts", site.hosts())
                .texts("buckets", site.storeIds())
                .texts("distributions", site.edgeIds())
                .texts("credentials", credentials)
                .object("counts", () -> counts(json, audit, Optional.of(site.name())));
    }

    private static void counts(Json json, Audit audit, Optional<String> site) {
        for (Severity severity : Severity.values()) {
            json.number(severity.word(), audit.counts(site).get(severity));
        }
        json.number("unknown", audit.unknownCount(site));
    }

    private static void finding(Json json, Finding finding) {
        json.text("check", finding.card().id())
                .text("area", finding.card().area().word())
                .text("severity", finding.severity().word())
                .text("subject", finding.subject())
                .text("site", finding.site())
                .text("says", finding.says())
                .because(finding.because())
                .witness(finding.witness())
                .text("remedy", finding.remedy())
                .text("fingerprint", finding.fingerprint());
    }

    private static void unknown(Json json, Audit.UnknownAnswer answer) {
        Verdict.Unknown verdict = answer.verdict();
        Need first = verdict.needs().get(0);
        json.text("check", answer.card().id())
                .text("severity", answer.card().worst().word())
                .text("subject", verdict.subject())
                .text("site", verdict.site())
                .needs(verdict.needs())
                .text("why", first.why())
                .text("permission", first.permission());
    }
}
