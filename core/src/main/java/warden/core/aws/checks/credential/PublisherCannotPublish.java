package warden.core.aws.checks.credential;

import java.util.ArrayList;
import java.util.List;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.power.Shortfall;
import warden.core.aws.publishing.NeededPermissions;
import warden.core.pipeline.Needed;
import warden.core.survey.Citation;

/** Finds publishing credentials that lack what a deployment of their site takes. */
final class PublisherCannotPublish implements PublisherCheck {
    private static final CheckCard CARD = new CheckCard(
            "publisher-cannot-publish",
            Area.CREDENTIAL,
            Severity.HIGH,
            "something the deployment needs is not allowed (each one named)",
            "iam-user, iam-group, iam-role, iam-policy, bucket-policy, key-policy, pipeline-file",
            "The next deployment stops half-way, or the new version is not what visitors get.",
            "Allow what is named, on the site's own bucket and distribution.",
            "AWS CLI User Guide, \"Using high-level (s3) commands\"; CloudFront Developer Guide, \"Invalidate files to remove content\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    @Override
    public List<Verdict> judge(Subject subject) {
        NeededPermissions needed = subject.needed();
        if (needed.needed().isEmpty()) {
            return List.of();
        }
        Shortfall shortfall = Shortfall.of(subject.powers(), needed.needed());
        if (!shortfall.missing().isEmpty()) {
            List<Citation> because =
                    new ArrayList<>(List.of(subject.publisher().principal().at()));
            because.addAll(shortfall.because());
            List<String> actions =
                    shortfall.missing().stream().map(Needed::action).distinct().toList();
            String says = subject.name()
                    + subject.site().map(name -> " publishes " + name).orElse(" publishes") + " and is not allowed "
                    + String.join(", ", actions) + ".";
            return List.of(new Verdict.Flagged(subject.finding(CARD, says, because)));
        }
        return List.of(shortfall.needs().isEmpty() ? subject.clean() : subject.unknown(shortfall.needs()));
    }
}
