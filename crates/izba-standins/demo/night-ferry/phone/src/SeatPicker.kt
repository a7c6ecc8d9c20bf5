package ferry.tickets

/** Lets the passenger choose a seat. */
class SeatPicker(private val deck: String) {
    lateinit var seats: List<String>

    fun open() {
        show()
        seats = listOf("A1", "A2", "B1")
    }

    fun show() {
        println("free on the " + deck + ": " + seats.size)
    }
}
