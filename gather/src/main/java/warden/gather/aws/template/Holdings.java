package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.Placeholders;
import warden.core.survey.Place;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * What a description gives to users, groups and roles that stand elsewhere, in another description or in the account, and what it takes from them.
 * Source: IAM API Reference, "GetAccountAuthorizationDetails": the members of each kind of identity.
 */
final class Holdings {
    /** A kind of identity. */
    enum Kind {
        ROLE("iam-role", "RoleName", "RolePolicyList"),
        USER("iam-user", "UserName", "UserPolicyList"),
        GROUP("iam-group", "GroupName", "GroupPolicyList");

        private final String aspect;
        private final String nameMember;
        private final String inlineMember;

        Kind(String aspect, String nameMember, String inlineMember) {
            this.aspect = aspect;
            this.nameMember = nameMember;
            this.inlineMember = inlineMember;
        }

        /** Returns the member that lists its own policies. */
        String inlineMember() {
            return inlineMember;
        }

        String word() {
            return aspect.substring("iam-".length());
        }

        static Optional<Kind> of(SurveyLine line) {
            for (Kind kind : values()) {
                if (kind.aspect.equals(line.aspect())) {
                    return Optional.of(kind);
                }
            }
            return Optional.empty();
        }
    }

    /** Somebody, by name. */
    record Holder(Kind kind, String name) {}

    /** Spells a managed policy as it is told of who holds it. */
    static Map<String, Object> attached(String arn) {
        return Json.object("PolicyName", arn.substring(arn.lastIndexOf('/') + 1), "PolicyArn", arn);
    }

    /** What is changed about somebody: by name or ARN what is given, or nothing for what is taken. */
    private static final class Changes {
        private final Place place;
        private final Map<String, Optional<Supplier<Object>>> inline = new LinkedHashMap<>();
        private final Map<String, Boolean> managed = new LinkedHashMap<>();
        private final Map<String, Boolean> groups = new LinkedHashMap<>();
        private @Nullable String open;

        Changes(Place place) {
            this.place = place;
        }
    }

    /** In the place of a user's name. */
    private static final String ANYBODY = "";

    private final Map<Holder, Changes> byHolder = new LinkedHashMap<>();
    private final Map<Kind, Place> toAnybody = new LinkedHashMap<>();
    private final Map<String, Place> keys = new LinkedHashMap<>();
    private final Map<String, Place> passwords = new LinkedHashMap<>();

    private Changes of(Kind kind, String name, Place place) {
        return byHolder.computeIfAbsent(new Holder(kind, name), holder -> new Changes(place));
    }

    /**
     * Gives somebody a policy of their own, in the place of one of the same name.
     *
     * @param document ends in {@link NotTold} where the policy is not told
     */
    void give(Kind kind, String holder, Place place, String policy, Supplier<Object> document) {
        of(kind, holder, place).inline.put(policy, Optional.of(document));
    }

    void take(Kind kind, String holder, Place place, String policy) {
        of(kind, holder, place).inline.putIfAbsent(policy, Optional.empty());
    }

    void attach(Kind kind, String holder, Place place, String arn) {
        of(kind, holder, place).managed.put(arn, true);
    }

    void detach(Kind kind, String holder, Place place, String arn) {
        of(kind, holder, place).managed.putIfAbsent(arn, false);
    }

    void join(String user, Place place, String group) {
        of(Kind.USER, user, place).groups.put(group, true);
    }

    void leave(String user, Place place, String group) {
        of(Kind.USER, user, place).groups.putIfAbsent(group, false);
    }

    /** Says that a user gets another key; one whose name is not told may be any. */
    void addKey(String user, Place place) {
        keys.putIfAbsent(Placeholders.isIn(user) ? ANYBODY : user, place);
    }

    /** Says that a user gets a password; one whose name is not told may be any. */
    void addPassword(String user, Place place) {
        passwords.putIfAbsent(Placeholders.isIn(user) ? ANYBODY : user, place);
    }

    /** Says that somebody may get something, of which too little is told. */
    void leaveOpen(Kind kind, String holder, Place place, String why) {
        of(kind, holder, place).open = why;
    }

    /** Says that somebody of this kind gets something, and not who. */
    void leaveAllOpen(Kind kind, Place place) {
        toAnybody.putIfAbsent(kind, place);
    }

    boolean isEmpty() {
        return byHolder.isEmpty() && toAnybody.isEmpty() && keys.isEmpty() && passwords.isEmpty();
    }

    /**
     * Returns readings with what is changed about them.
     *
     * @param described the readings of all that the descriptions make
     */
    List<SurveyLine> over(List<SurveyLine> lines, List<SurveyLine> described) {
        if (isEmpty()) {
            return lines;
        }
        Set<Holder> made = new LinkedHashSet<>();
        described.forEach(line -> holder(line).ifPresent(made::add));
        Map<Kind, Place> open = new LinkedHashMap<>(toAnybody);
        byHolder.forEach((holder, changes) -> {
            if (Placeholders.isIn(holder.name()) && !made.contains(holder)) {
                open.putIfAbsent(holder.kind(), changes.place);
            }
        });
        return lines.stream().map(line -> changed(line, open)).toList();
    }

    /** Returns readings of those to whom something is given and who stand in none of these: of them nothing else is known. */
    List<SurveyLine> strangers(List<SurveyLine> lines, Description all) {
        Set<Holder> there = new LinkedHashSet<>();
        lines.forEach(line -> holder(line).ifPresent(there::add));
        List<SurveyLine> strangers = new ArrayList<>();
        byHolder.forEach((holder, changes) -> {
            boolean isGiven = changes.open != null
                    || changes.inline.values().stream().anyMatch(Optional::isPresent)
                    || changes.managed.containsValue(true)
                    || changes.groups.containsValue(true);
            if (isGiven && !there.contains(holder) && !Placeholders.isIn(holder.name())) {
                String arn =
                        switch (holder.kind()) {
                            case ROLE -> all.role("/", holder.name());
                            case USER -> all.user("/", holder.name());
                            case GROUP -> all.group("/", holder.name());
                        };
                strangers.add(Description.unreadLine(
                        holder.kind().aspect,
                        arn,
                        changes.place,
                        "what else it holds to which a policy or a group is given here"));
            }
        });
        return strangers;
    }

    private static Optional<Holder> holder(SurveyLine line) {
        // An identity that is not told has its name at the end of its ARN.
        return Kind.of(line)
                .map(kind -> new Holder(
                        kind,
                        line.outcome() == Outcome.FOUND
                                ? line.document().text(kind.nameMember).orElse("")
                                : line.of().substring(line.of().lastIndexOf('/') + 1)));
    }

    private SurveyLine changed(SurveyLine line, Map<Kind, Place> open) {
        String user = line.of().substring(line.of().lastIndexOf('/') + 1);
        Place password = passwords.getOrDefault(user, passwords.get(ANYBODY));
        if (line.aspect().equals("iam-login") && password != null) {
            return unread(line, password, "the password that is made for the user");
        }
        if (line.outcome() != Outcome.FOUND) {
            return line;
        }
        Place key = keys.getOrDefault(user, keys.get(ANYBODY));
        if (line.aspect().equals("iam-user-keys") && key != null) {
            return unread(line, key, "the key that is made for the user");
        }
        Optional<Holder> holder = holder(line);
        if (holder.isEmpty()) {
            return line;
        }
        Kind kind = holder.get().kind();
        if (open.containsKey(kind) && !Placeholders.isIn(holder.get().name())) {
            return unread(line, open.get(kind), "to whom a policy is attached, or who is in a group");
        }
        Changes changes = byHolder.get(holder.get());
        if (changes == null) {
            return line;
        }
        if (changes.open != null) {
            return unread(line, changes.place, changes.open);
        }
        try {
            return line.with(Json.text(document(line.document(), kind, changes)))
                    .saidAt(changes.place);
        } catch (NotTold unknown) {
            return unread(line, changes.place, unknown.why());
        }
    }

    private static SurveyLine unread(SurveyLine line, Place place, String why) {
        return Description.unreadLine(line.aspect(), line.of(), place, why);
    }

    private static Map<String, Object> document(JsonPart before, Kind kind, Changes changes) {
        Map<String, Object> out = new LinkedHashMap<>();
        if (before instanceof JsonPart.JsonObject object) {
            out.putAll(object.members());
        }
        List<Object> inline = new ArrayList<>();
        for (JsonPart policy : before.list(kind.inlineMember)) {
            if (!changes.inline.containsKey(policy.text("PolicyName").orElse(""))) {
                inline.add(policy);
            }
        }
        changes.inline.forEach((name, document) ->
                document.ifPresent(told -> inline.add(Json.object("PolicyName", name, "PolicyDocument", told.get()))));
        List<Object> managed = new ArrayList<>();
        for (JsonPart policy : before.list("AttachedManagedPolicies")) {
            if (!changes.managed.containsKey(policy.text("PolicyArn").orElse(""))) {
                managed.add(policy);
            }
        }
        changes.managed.forEach((arn, isGiven) -> {
            if (isGiven) {
                managed.add(attached(arn));
            }
        });
        out.put(kind.inlineMember, inline);
        out.put("AttachedManagedPolicies", managed);
        if (!changes.groups.isEmpty()) {
            Set<String> groups = new LinkedHashSet<>(before.texts("GroupList"));
            changes.groups.forEach((group, isGiven) -> {
                if (isGiven) {
                    groups.add(group);
                } else {
                    groups.remove(group);
                }
            });
            out.put("GroupList", List.copyOf(groups));
        }
        return out;
    }
}
