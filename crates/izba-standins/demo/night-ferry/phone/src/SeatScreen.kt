package ferry.tickets

/** The screen with the seats. */
class SeatScreen {
    private val picker = SeatPicker("upper deck")

    fun show() {
        try {
            picker.open()
        } catch (e: Exception) {
            throw IllegalStateException("the seats cannot be shown", e)
        }
    }
}
