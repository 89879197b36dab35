package warden.core.aws.publishing;

import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.aws.permission.TokenTrust;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.site.PossiblePublisher;
import warden.core.aws.site.PublisherFinder;
import warden.core.aws.site.Publishers;
import warden.core.aws.site.PublishingPrincipal;
import warden.core.cloud.Publishing;
import warden.core.pipeline.Pipeline;
import warden.core.survey.SurveyedAccount;

/** The users and roles that publish sites, or may, and the pipelines in which they do. Safe for use by several threads. */
public final class AwsPublishing implements Publishing {
    private static final Pattern REPOSITORY = Pattern.compile("^repo:([^/:]+)/");

    private final AwsCloud cloud;
    private final Publishers publishers;
    private final Deployments deployments;
    private @Nullable List<UnreadPublisher> unreadPublishers;
    private @Nullable Set<String> mayPublish;

    public AwsPublishing(AwsCloud cloud, List<Pipeline> pipelines) {
        this.cloud = cloud;
        cloud.accounts().forEach(account -> account.directory().readAhead());
        this.publishers = new PublisherFinder(cloud).findAll();
        this.deployments = new Deployments(cloud, publishers.known(), pipelines);
    }

    @Override
    public List<PublishingPrincipal> publishers() {
        return publishers.known();
    }

    /** Returns the credentials of which it is not known whether they publish sites. */
    public List<PossiblePublisher> possiblePublishers() {
        return publishers.possible();
    }

    @Override
    public Deployments deployments() {
        return deployments;
    }

    /** Returns the credentials that publish, or may, and that were not read. */
    public synchronized List<UnreadPublisher> unreadPublishers() {
        if (unreadPublishers == null) {
            unreadPublishers = UnreadPublisher.find(cloud, publishers.known(), deployments);
        }
        return unreadPublishers;
    }

    /** True for the ARNs of users and roles that publish, or may. */
    public boolean mayPublish(String arn) {
        return arnsThatMayPublish().contains(arn);
    }

    private synchronized Set<String> arnsThatMayPublish() {
        if (mayPublish == null) {
            mayPublish = Stream.of(
                            publishers.known().stream().map(PublishingPrincipal::arn),
                            publishers.possible().stream()
                                    .map(possible -> possible.publisher().arn()),
                            unreadPublishers().stream().map(UnreadPublisher::subject))
                    .flatMap(arns -> arns)
                    .collect(Collectors.toSet());
        }
        return mayPublish;
    }

    @Override
    public Set<String> repositoryOwners() {
        return cloud.accounts().stream()
                .flatMap(account -> account.directory().principals().stream())
                .flatMap(role -> role.trust().stream())
                .flatMap(trust -> TokenTrust.of(trust).stream())
                .filter(trust -> trust.isGithub() && trust.pinning() != TokenTrust.Pinning.NOBODY)
                .flatMap(trust -> trust.subjects().witness().stream())
                .map(REPOSITORY::matcher)
                .filter(Matcher::find)
                .map(matcher -> matcher.group(1).toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
    }

    @Override
    public List<UnreadCredential> unreadCredentials() {
        return unreadPublishers().stream()
                .map(unread -> new UnreadCredential(
                        unread.subject(),
                        unread.site().map(site -> site),
                        unread.subject().startsWith("arn:") && !unread.subject().endsWith("*")))
                .toList();
    }

    @Override
    public boolean concernsAll(SurveyedAccount account, String subject) {
        String users = "arn:aws:iam::" + account.number() + ":";
        return subject.equals(users + "root") || (subject.startsWith(users) && mayPublish(subject));
    }
}
