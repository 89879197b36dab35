package warden.core.mend;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import warden.core.access.Ability;
import warden.core.audit.Audit;
import warden.core.audit.AuditContext;
import warden.core.audit.Check;
import warden.core.audit.Finding;
import warden.core.cloud.Changes;
import warden.core.cloud.Cloud;
import warden.core.document.DisplayText;
import warden.core.site.Publisher;
import warden.core.site.Site;
import warden.core.survey.Need;

/**
 * Holds a state of the accounts against the one that was surveyed: nobody outside gains, no visitor loses, publishers still publish. It knows
 * no check and no remedy.
 */
final class Prover {
    private final AuditContext old;
    private final VisitProof visits;
    private final List<Check> ofPublishing;
    private final Map<String, String> lacking;
    private final Set<String> unknownPublishers;
    private final Set<String> openStores;

    /**
     * Makes ready.
     *
     * @param old as surveyed
     * @param ofPublishing the questions whether publishers can publish
     */
    Prover(AuditContext old, List<Check> ofPublishing) {
        this.old = old;
        this.ofPublishing = List.copyOf(ofPublishing);
        this.visits = new VisitProof(old);
        Audit audit = Audit.of(old, ofPublishing, card -> true);
        this.lacking = lacking(audit);
        this.unknownPublishers = unknown(audit);
        this.openStores = new HashSet<>();
        for (Site site : old.sites()) {
            if (site.isStatedOpen()) {
                openStores.addAll(site.storeIds());
            }
        }
    }

    /**
     * Proves a state.
     *
     * @param touched what was changed that visitors' answers rest on, by its identifiers
     */
    StepProof prove(AuditContext state, Set<String> touched) {
        List<String> gained = new ArrayList<>();
        List<String> allowed = new ArrayList<>();
        List<Need> open = new ArrayList<>();
        strangers(state, gained, allowed, open);
        VisitProof.Result seen = visits.in(state, touched);
        open.addAll(seen.open());
        List<String> worse = publishers(state, open);
        return new StepProof(
                gained, allowed, seen.worse(), worse, List.copyOf(new LinkedHashSet<>(open)), seen.closed());
    }

    private void strangers(AuditContext state, List<String> gained, List<String> allowed, List<Need> open) {
        Set<String> publishers = new HashSet<>();
        old.publishers().stream().map(Publisher::id).forEach(publishers::add);
        state.publishers().stream().map(Publisher::id).forEach(publishers::add);
        for (int i = 0; i < state.clouds().size(); i++) {
            Cloud cloud = state.clouds().get(i);
            Changes changes = cloud.since(old.clouds().get(i), publishers);
            changes.incomparable().forEach(open::add);
            for (Changes.OfReach change : changes.reach()) {
                if (change.gained().isEmpty()) {
                    continue;
                }
                String says = DisplayText.name(change.who()) + " may "
                        + change.ability().word() + " in "
                        + cloud.shortName(change.store()).orElse(change.store())
                        + change.gained()
                                .map(gain -> ", such as " + gain.witness().action() + " on "
                                        + gain.witness().on())
                                .orElse("");
                boolean reads = change.ability() == Ability.READ && openStores.contains(change.store());
                if (change.isOutsider() && !reads) {
                    gained.add(says);
                } else if (change.isOutsider() || isActingForOwn(cloud, change.who())) {
                    allowed.add(says);
                }
            }
            for (Changes.OfCredential change : changes.credentials()) {
                change.trustGained()
                        .forEach(in -> gained.add(
                                DisplayText.name(in.who()) + " may work as " + DisplayText.name(change.credential())));
            }
        }
    }

    /** The account's own edges, and services that have to act for them or for the account. */
    private static boolean isActingForOwn(Cloud cloud, String who) {
        return who.startsWith("service:") || cloud.hostsOfParts().containsKey(who);
    }

    private List<String> publishers(AuditContext state, List<Need> open) {
        Audit audit = Audit.of(state, ofPublishing, card -> true);
        List<String> worse = new ArrayList<>();
        lacking(audit).forEach((key, says) -> {
            if (!says.equals(lacking.get(key)) && !isLess(says, lacking.get(key))) {
                worse.add(says);
            }
        });
        audit.unknowns().stream()
                .filter(answer -> !unknownPublishers.contains(answer.verdict().subject()))
                .forEach(answer -> open.addAll(answer.verdict().needs()));
        return worse;
    }

    /** True where what is lacking now was lacking before, among other things. */
    private static boolean isLess(String now, @org.jspecify.annotations.Nullable String before) {
        if (before == null) {
            return false;
        }
        Set<String> then = new HashSet<>(List.of(before.split("[ ,.]+")));
        return then.containsAll(List.of(now.split("[ ,.]+")));
    }

    private static Map<String, String> lacking(Audit audit) {
        Map<String, String> all = new HashMap<>();
        for (Finding finding : audit.findings()) {
            all.put(finding.fingerprint(), finding.says());
        }
        return all;
    }

    private static Set<String> unknown(Audit audit) {
        Set<String> subjects = new HashSet<>();
        audit.unknowns().forEach(answer -> subjects.add(answer.verdict().subject()));
        return subjects;
    }
}
