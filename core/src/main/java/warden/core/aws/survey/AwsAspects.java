package warden.core.aws.survey;

import java.util.Collection;
import java.util.List;
import warden.core.document.JsonPart;
import warden.core.survey.Aspects;
import warden.core.survey.Need;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/** The aspects of this provider's surveys. */
public final class AwsAspects implements Aspects {
    /** The word by which headers of surveys, and steps of pipelines, name the provider. */
    public static final String PROVIDER = "aws";

    public static final AwsAspects TABLE = new AwsAspects();
    /** The members by which a page names the one that follows. Source: the API Reference of each list call. */
    private static final List<String> MORE =
            List.of("NextToken", "NextContinuationToken", "NextMarker", "NextRecordName", "NextKeyMarker");

    private AwsAspects() {}

    /** Returns that a listing does not go to its end, so that what it does not name may be there all the same. */
    public static Need cutShort(String aspect, String of) {
        return Need.cutShort(aspect, of, Permissions.toRead(aspect));
    }

    @Override
    public String permission(String aspect) {
        return Permissions.toRead(aspect);
    }

    @Override
    public String permission(SurveyLine line) {
        return Permissions.isTaken(line.call()) ? line.call() : Permissions.toRead(line.aspect());
    }

    @Override
    public boolean meansAbsent(String aspect, String code) {
        return AbsenceCodes.means(aspect, code);
    }

    @Override
    public List<String> permissions() {
        return Permissions.all();
    }

    @Override
    public boolean saysMoreFollows(SurveyLine line) {
        if (line.outcome() != Outcome.FOUND) {
            return false;
        }
        String body = line.body();
        if (!body.contains("Truncated") && !body.contains("Next") && !body.contains("ContinuationToken")) {
            return false;
        }
        JsonPart page = line.document();
        JsonPart list = page.find("DistributionList").orElse(page);
        return list.flag("IsTruncated").orElse(false)
                || MORE.stream().anyMatch(mark -> list.text(mark)
                        .filter(token -> !token.isEmpty())
                        .isPresent())
                // In a list of objects the same word repeats the token that was asked with.
                || (line.aspect().equals("bucket-list")
                        && list.text("ContinuationToken")
                                .filter(token -> !token.isEmpty())
                                .isPresent());
    }

    @Override
    public boolean isPermission(String permission) {
        return permission.indexOf(':') > 0;
    }

    @Override
    public String grant(Collection<String> permissions) {
        return Permissions.statement(permissions);
    }
}
