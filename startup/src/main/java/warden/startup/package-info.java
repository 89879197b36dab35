/** Tools of the build: they change compiled classes and the libraries' copies so that the JVM has less to do when the program starts. */
package warden.startup;
