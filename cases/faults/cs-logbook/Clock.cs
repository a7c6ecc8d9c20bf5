public class Clock
{
    private int hour;

    public Clock(int hour)
    {
        this.hour = hour;
    }

    public int Hour
    {
        get { return hour; }
    }

    public void Pass(int hours)
    {
        hour = (hour + hours) % 24;
    }
}
