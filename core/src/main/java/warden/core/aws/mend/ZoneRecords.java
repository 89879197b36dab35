package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import warden.core.aws.account.Account;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Phase;
import warden.core.survey.SurveyLine;

/**
 * Records of a hosted zone, each name and type a document of its own. Source: AWS CLI Command Reference, route53
 * change-resource-record-sets and list-resource-record-sets; Route 53 API Reference, ResourceRecordSet.
 */
final class ZoneRecords {
    private static final String ASPECT = "zone-records";

    private ZoneRecords() {}

    /** A record and the zone that holds it, as a survey shows them. */
    record Held(Account account, String zone, JsonPart set) {
        String name() {
            return set.text("Name").orElse("");
        }

        String type() {
            return set.text("Type").orElse("");
        }
    }

    /** Returns the simple records of a host; those that are weighed, routed or checked are left to a person. */
    static List<Held> of(List<Account> accounts, String host) {
        List<Held> held = new ArrayList<>();
        for (Account account : accounts) {
            for (String zone : account.survey().subjects(ASPECT)) {
                account.survey().listing(ASPECT, zone).found().stream()
                        .filter(listing -> listing.pages().size() == 1)
                        .flatMap(listing -> listing.pages().stream())
                        .flatMap(page -> page.value().list("ResourceRecordSets").stream())
                        .filter(set -> isOf(set, host))
                        .filter(set -> set.find("SetIdentifier").isEmpty())
                        .forEach(set -> held.add(new Held(account, zone, set)));
            }
        }
        return held;
    }

    private static boolean isOf(JsonPart set, String host) {
        return set.text("Name")
                .map(name -> name.toLowerCase(Locale.ROOT).replaceFirst("\\.$", ""))
                .filter(host::equals)
                .isPresent();
    }

    /** Takes a record away. */
    static Change delete(Held held, String title) {
        String key = "record " + held.zone() + " " + held.name() + " " + held.type();
        return new Change(key, Phase.TIDY, "remove-record", held.account().number(), state -> Accounts.in(
                        state, held.account().number())
                .flatMap(now -> edited(now, held, title, set -> true, Optional.empty())));
    }

    /** Adds a record of another type that leads where this one does. */
    static Change beside(Held held, String type, String title) {
        String key = "record " + held.zone() + " " + held.name() + " " + type;
        Map<String, Object> set = new LinkedHashMap<>();
        ((JsonPart.JsonObject) held.set()).members().forEach(set::put);
        set.put("Type", type);
        return new Change(key, Phase.SWITCH, "add-record", held.account().number(), state -> Accounts.in(
                        state, held.account().number())
                .flatMap(now -> edited(now, held, title, old -> false, Optional.of(Json.text(set)))));
    }

    /** Adds a record of another name that leads where this one does. */
    static Change likewise(Held held, String host, String title) {
        Map<String, Object> set = new LinkedHashMap<>();
        ((JsonPart.JsonObject) held.set()).members().forEach(set::put);
        set.put("Name", host + ".");
        String added = Json.text(set);
        Held fresh = new Held(
                held.account(), held.zone(), JsonReader.read(added).root().orElseThrow());
        String key = "record " + held.zone() + " " + fresh.name() + " " + fresh.type();
        return new Change(key, Phase.SWITCH, "add-record", held.account().number(), state -> Accounts.in(
                        state, held.account().number())
                .flatMap(now -> edited(now, fresh, title, old -> false, Optional.of(added))));
    }

    /** The hosted zone of every distribution. Source: Route 53 API Reference, AliasTarget. */
    private static final String EDGE_ZONE = "Z2FDTNDATAQYW2";

    /** Leads records of one host to a distribution. */
    static List<Change> leadTo(List<Held> records, String domain, String title) {
        List<Change> changes = new ArrayList<>();
        for (Held held : records) {
            Map<String, Object> set = new LinkedHashMap<>();
            set.put("Name", held.name());
            set.put("Type", held.type());
            boolean isAddress = held.type().equals("A") || held.type().equals("AAAA");
            if (isAddress) {
                set.put(
                        "AliasTarget",
                        Json.object("HostedZoneId", EDGE_ZONE, "DNSName", domain + ".", "EvaluateTargetHealth", false));
            } else if (held.type().equals("CNAME")) {
                set.put("TTL", held.set().find("TTL").<Object>map(ttl -> ttl).orElse(300));
                set.put("ResourceRecords", List.of(Json.object("Value", domain)));
            } else {
                continue;
            }
            changes.add(new Change(
                    "record " + held.zone() + " " + held.name() + " " + held.type() + " to edge",
                    Phase.SWITCH,
                    "lead-to-edge",
                    held.account().number(),
                    state -> Accounts.in(state, held.account().number())
                            .flatMap(now -> edited(now, held, title, old -> true, Optional.of(Json.text(set))))));
        }
        return changes;
    }

    private static Optional<Edited> edited(
            Account now, Held held, String title, Predicate<JsonPart> replaces, Optional<String> added) {
        Optional<JsonPart> page = now.survey().reading(ASPECT, held.zone()).found();
        if (page.isEmpty()) {
            return Optional.empty();
        }
        String type = added.isPresent() ? type(added.get()) : held.type();
        List<JsonPart> sets = page.get().list("ResourceRecordSets");
        Optional<String> before = Optional.empty();
        String body = JsonSpelling.of(page.get());
        for (int i = sets.size() - 1; i >= 0; i--) {
            JsonPart set = sets.get(i);
            if (set.text("Name").equals(held.set().text("Name"))
                    && set.text("Type").filter(type::equals).isPresent()) {
                before = Optional.of(JsonSpelling.of(set));
                body = JsonEdit.remove(body, "/ResourceRecordSets/" + i);
            }
        }
        boolean isTaken = added.isPresent() && before.isPresent() && !replaces.test(held.set());
        if (before.equals(added) || isTaken) {
            return Optional.empty();
        }
        if (added.isPresent()) {
            List<JsonPart> others = sets.stream()
                    .filter(set -> !(set.text("Name").equals(held.set().text("Name"))
                            && set.text("Type").filter(type::equals).isPresent()))
                    .toList();
            body = JsonEdit.set(body, "/ResourceRecordSets", with(others, held, added.get()));
        }
        String id = held.zone().substring(held.zone().lastIndexOf('/') + 1);
        return Optional.of(Edited.of(
                title,
                held.zone(),
                BucketSetting.PROGRAM,
                Edited.Document.of(
                        Call.of(
                                "route53",
                                "list-resource-record-sets",
                                "--hosted-zone-id=" + id,
                                "--query=ResourceRecordSets[?Name=='" + held.name() + "'&&Type=='" + type + "']",
                                "--output=json"),
                        "[" + before.orElse("") + "]",
                        "[" + added.orElse("") + "]"),
                Edited.Calls.of(batch(id, before, added), batch(id, added, before)),
                List.of(new SurveyLine(
                        "",
                        1,
                        ASPECT,
                        held.zone(),
                        "route53:ListResourceRecordSets",
                        SurveyLine.Outcome.FOUND,
                        body))));
    }

    /** Records of one name stand together. */
    private static String with(List<JsonPart> sets, Held held, String added) {
        List<Object> all = new ArrayList<>(sets);
        int at = all.size();
        for (int i = 0; i < sets.size(); i++) {
            at = sets.get(i).text("Name").equals(held.set().text("Name")) ? i + 1 : at;
        }
        all.add(at, new Json.Raw(added));
        return Json.text(all);
    }

    private static String type(String set) {
        return JsonReader.read(set).root().flatMap(part -> part.text("Type")).orElse("");
    }

    private static Call batch(String zone, Optional<String> gone, Optional<String> added) {
        List<Object> changes = new ArrayList<>();
        gone.ifPresent(set -> changes.add(Json.object("Action", "DELETE", "ResourceRecordSet", new Json.Raw(set))));
        added.ifPresent(set -> changes.add(Json.object("Action", "CREATE", "ResourceRecordSet", new Json.Raw(set))));
        return Call.with(
                Json.text(Json.object("Changes", changes)),
                "route53",
                "change-resource-record-sets",
                "--hosted-zone-id=" + zone,
                "--change-batch=file://" + Call.FILE);
    }
}
