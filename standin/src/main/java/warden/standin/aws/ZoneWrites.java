package warden.standin.aws;

import java.time.Clock;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import software.amazon.awssdk.services.route53.model.ChangeResourceRecordSetsRequest;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.XmlText;

/** Changes the records of zones: all of a batch, or none. Source: Route 53 API Reference, ChangeResourceRecordSets. */
final class ZoneWrites {
    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final Clock clock;

    ZoneWrites(CloudState state, Gatekeeper gatekeeper, Clock clock) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.clock = clock;
    }

    Reply change(Call call, String zone) {
        gatekeeper.demand(call, "route53:ChangeResourceRecordSets", "arn:aws:route53:::" + zone);
        if (state.line("zone-records", zone).isEmpty()) {
            throw new Refusal(404, "NoSuchHostedZone", "No hosted zone found with ID: " + zone);
        }
        JsonPart request = JsonReader.read(WireReading.json(ChangeResourceRecordSetsRequest.builder(), call.body()))
                .root()
                .orElseThrow();
        List<JsonPart> sets = new ArrayList<>();
        for (SurveyLine page : state.pages("zone-records", zone)) {
            if (page.outcome() == SurveyLine.Outcome.FOUND) {
                sets.addAll(page.document().list("ResourceRecordSets"));
            }
        }
        for (JsonPart change : request.list("ChangeBatch", "Changes")) {
            JsonPart set = change.find("ResourceRecordSet").orElseThrow(() -> invalid("a change names no record"));
            apply(change.text("Action").orElse(""), set, sets);
        }
        state.put(
                "zone-records",
                zone,
                "route53:ListResourceRecordSets",
                JsonEdit.set(
                        state.line("zone-records", zone).orElseThrow().body(), "/ResourceRecordSets", Json.text(sets)));
        return Reply.xml(
                200,
                XmlText.of(
                        "ChangeResourceRecordSetsResponse",
                        AccountApi.space("route53"),
                        xml -> xml.element("ChangeInfo", info -> info.text("Id", "/change/C0STANDIN")
                                .text("Status", "INSYNC")
                                .text("SubmittedAt", clock.instant().truncatedTo(ChronoUnit.SECONDS)))));
    }

    private static Refusal invalid(String why) {
        return new Refusal(400, "InvalidChangeBatch", why);
    }

    private static void apply(String action, JsonPart set, List<JsonPart> sets) {
        Optional<JsonPart> there =
                sets.stream().filter(other -> isSame(set, other)).findFirst();
        switch (action) {
            case "CREATE" -> {
                if (there.isPresent()) {
                    throw invalid("the record exists already");
                }
                add(set, sets);
            }
            case "DELETE" -> sets.remove(there.orElseThrow(() -> invalid("the record was not found")));
            case "UPSERT" -> {
                there.ifPresent(sets::remove);
                add(set, sets);
            }
            default -> throw invalid("there is no action " + action);
        }
    }

    /** Records of one name stand together. */
    private static void add(JsonPart set, List<JsonPart> sets) {
        int at = sets.size();
        for (int i = 0; i < sets.size(); i++) {
            at = sets.get(i).text("Name").equals(set.text("Name")) ? i + 1 : at;
        }
        sets.add(at, set);
    }

    private static boolean isSame(JsonPart one, JsonPart other) {
        return one.text("Name").equals(other.text("Name"))
                && one.text("Type").equals(other.text("Type"))
                && one.text("SetIdentifier").equals(other.text("SetIdentifier"));
    }
}
