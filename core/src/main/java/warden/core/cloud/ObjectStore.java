package warden.core.cloud;

import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/** A store of objects: a bucket, a container. */
public interface ObjectStore {
    /** Returns its identifier. */
    String id();

    /** Returns how people call it. */
    String name();

    /** Returns the identifier of one of its objects. */
    String object(String name);

    /** Returns the names that were listed; absent where none were. */
    Optional<Names> listed();

    /** Returns what keeps its names from being known as a whole; absent when they are. */
    Optional<Need> unlistedObjects();

    /** Returns the objects of which it was asked how they are stored. */
    List<String> asked();

    /** Returns how an object is stored; absent where nobody asked. */
    Optional<? extends Reading<? extends Stored>> stored(String name);

    /** Returns the permission that asking how an object is stored takes. */
    String permissionToAsk();

    /** Names of objects, in the order of the listing. */
    interface Names {
        Set<String> keys();

        /** Returns an object's size in bytes; empty when it is not said. */
        OptionalLong size(String name);

        /** True when the listing ended, so that what is not in it does not exist. */
        boolean isComplete();

        /** Returns where the object is listed. */
        Optional<Citation> citation(String name);
    }

    /** What is stored with an object. */
    interface Stored {
        Optional<String> contentType();

        Optional<String> cacheControl();

        /** True when a request of the object is sent elsewhere. */
        boolean redirects();

        /** Returns the members under which a reading holds the content type and the cache control. */
        default String contentTypeAt() {
            return "/ContentType";
        }

        default String cacheControlAt() {
            return "/CacheControl";
        }
    }
}
