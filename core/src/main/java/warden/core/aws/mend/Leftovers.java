package warden.core.aws.mend;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.access.Truth;
import warden.core.audit.Finding;
import warden.core.aws.account.Account;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.cdn.Origin;
import warden.core.aws.site.AwsCloud;
import warden.core.mend.Proposal;

/**
 * What is left over is deleted by a person, since it cannot be made again as it was; what can be told is the order in which the service takes
 * it, in words that can be typed: record before distribution before bucket before zone. Source: CloudFront Developer Guide, "Delete a
 * distribution"; Route 53 Developer Guide, "Deleting a public hosted zone"; IAM User Guide, "Delete an IAM user" and "Delete roles".
 */
final class Leftovers {
    private static final String WHY = "what is deleted cannot be made again as it was";

    private final AwsCloud cloud;
    private final Account account;
    private final List<String> steps = new ArrayList<>();

    private Leftovers(AwsCloud cloud, Account account) {
        this.cloud = cloud;
        this.account = account;
    }

    /** Returns what to do about something left over; absent for other findings. */
    static Optional<Proposal> of(AwsCloud cloud, Finding finding) {
        String subject = finding.subject();
        Optional<Account> account = cloud.accounts().stream()
                .filter(each -> finding.because().stream().anyMatch(cited -> cited.file()
                        .equals(each.survey().header().file())))
                .findFirst();
        return account.flatMap(each -> {
            Leftovers left = new Leftovers(cloud, each);
            switch (finding.card().id()) {
                case "leftover-distribution" -> left.distribution(subject);
                case "leftover-zone" -> left.zone(subject);
                case "leftover-certificate" -> left.certificate(subject);
                case "leftover-publisher" -> left.credential(subject);
                default -> {
                    return Optional.empty();
                }
            }
            return Optional.of(Proposal.byHand(WHY, left.words()));
        });
    }

    private String words() {
        List<String> numbered = new ArrayList<>();
        for (int i = 0; i < steps.size(); i++) {
            numbered.add((i + 1) + ". " + steps.get(i));
        }
        return (steps.size() > 1 ? "In this order: " : "") + String.join(" ", numbered);
    }

    private static String last(String text) {
        return text.substring(text.lastIndexOf('/') + 1);
    }

    private void distribution(String arn) {
        account.edges().distributions().stream()
                .filter(each -> each.arn().equals(arn))
                .findFirst()
                .ifPresent(edge -> {
                    cloud.hosts()
                            .hostsLeadingTo(edge.domain())
                            .forEach(host -> steps.add("Take the record of " + host + " away."));
                    String id = "--id=" + edge.id();
                    if (edge.enabled()) {
                        steps.add("Disable it (aws cloudfront get-distribution-config " + id
                                + ", set Enabled to false, aws cloudfront update-distribution " + id
                                + "), and wait for a release of every site to pass.");
                    }
                    steps.add("Wait until it is so everywhere (aws cloudfront wait distribution-deployed " + id + ").");
                    steps.add("Delete it (aws cloudfront delete-distribution " + id
                            + " --if-match=ETAG, with the ETag that get-distribution-config prints).");
                    bucketsOf(edge)
                            .forEach(name -> steps.add("Nothing else fetches from the bucket " + name
                                    + ": empty and delete it if nobody needs what it holds (aws s3 rb s3://" + name
                                    + ")."));
                });
    }

    /** Returns the accounts' own buckets that nothing but this distribution makes a site of. */
    private Set<String> bucketsOf(Distribution edge) {
        Set<String> names = new LinkedHashSet<>();
        for (Origin origin : edge.origins()) {
            origin.bucket()
                    .filter(name -> cloud.ownerOf(name)
                            .filter(owner -> owner.ownsBucket(name) == Truth.TRUE)
                            .isPresent())
                    .filter(name -> cloud.unreadDistributionsAt(name).findAny().isEmpty())
                    .filter(name -> cloud.originsAt(name).stream()
                            .allMatch(each -> each.distribution().arn().equals(edge.arn())))
                    .ifPresent(names::add);
        }
        return names;
    }

    private void zone(String id) {
        steps.add("Make sure that no registrar delegates to its name servers.");
        steps.add("Delete it (aws route53 delete-hosted-zone --id=" + last(id) + ").");
    }

    private void certificate(String arn) {
        steps.add("Delete it (aws acm delete-certificate --certificate-arn=" + arn + " --region=" + arn.split(":", 6)[3]
                + ").");
    }

    private void credential(String arn) {
        String name = last(arn);
        boolean isRole = arn.contains(":role/");
        String kind = isRole ? "role" : "user";
        String named = " --" + kind + "-name=" + name;
        if (!isRole) {
            steps.add("Make its keys inactive (aws iam update-access-key" + named
                    + " --status=Inactive), and wait for a release of every site to pass.");
            steps.add("Delete its keys, its password and its devices (aws iam delete-access-key, delete-login-profile,"
                    + " deactivate-mfa-device).");
        }
        IdentityPolicies policies = new IdentityPolicies(account, arn);
        policies.inline()
                .forEach(policy -> steps.add("Delete the policy " + policy + " (aws iam delete-" + kind + "-policy"
                        + named + " --policy-name=" + policy + ")."));
        policies.attached()
                .forEach(policy -> steps.add("Detach " + last(policy) + " (aws iam detach-" + kind + "-policy" + named
                        + " --policy-arn=" + policy + ")."));
        policies.groups()
                .forEach(group -> steps.add("Take it out of " + group + " (aws iam remove-user-from-group" + named
                        + " --group-name=" + group + ")."));
        steps.add("Delete it (aws iam delete-" + kind + named + ").");
    }
}
